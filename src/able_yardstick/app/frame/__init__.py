"""The frame of the window: bar, tagboard, ruler, and the workbench that holds the job."""
