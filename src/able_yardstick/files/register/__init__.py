"""The register: every unit, record, reference and due date of a shop, on SQLite or PostgreSQL."""
