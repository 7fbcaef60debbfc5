"""The job: document and journal as one tree, and the edits of it that belong to no step."""
