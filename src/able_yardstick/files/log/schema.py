"""The tables of a log file, its format and version."""

LOG_ENDING = ".yardlog"
FORMAT = "able-yardstick-log"
VERSION = 1
STEP = 64  # samples, or entries of the level below, that one entry of a level stands for
BLOCK = 8192  # samples of a whole block
TABLES = """
CREATE TABLE IF NOT EXISTS about (name TEXT PRIMARY KEY, value TEXT NOT NULL);
CREATE TABLE IF NOT EXISTS series (
  id INTEGER PRIMARY KEY, tag TEXT NOT NULL, channel TEXT NOT NULL, role TEXT NOT NULL, name TEXT NOT NULL,
  source TEXT NOT NULL, node TEXT NOT NULL, unit TEXT NOT NULL
);
CREATE TABLE IF NOT EXISTS block (
  id INTEGER PRIMARY KEY, series INTEGER NOT NULL REFERENCES series, first_s REAL NOT NULL, last_s REAL NOT NULL,
  samples INTEGER NOT NULL, whole INTEGER NOT NULL, low REAL, high REAL,
  times BLOB NOT NULL, walls BLOB NOT NULL, numbers BLOB NOT NULL,
  states BLOB NOT NULL, value BLOB NOT NULL, lows BLOB NOT NULL, highs BLOB NOT NULL
);
CREATE INDEX IF NOT EXISTS block_by_time ON block (series, last_s, first_s, samples, low, high);
CREATE TABLE IF NOT EXISTS event (
  id INTEGER PRIMARY KEY, wall_s REAL NOT NULL, time_s REAL NOT NULL, kind TEXT NOT NULL, channel TEXT NOT NULL,
  says TEXT NOT NULL
);
CREATE TABLE IF NOT EXISTS calibration (
  id INTEGER PRIMARY KEY, wall_s REAL NOT NULL, time_s REAL NOT NULL, channel TEXT NOT NULL, revision TEXT NOT NULL,
  record TEXT NOT NULL
);
"""
