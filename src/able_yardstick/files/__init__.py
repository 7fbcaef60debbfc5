"""Files: jobs, points and tables, and what is handed to others."""
