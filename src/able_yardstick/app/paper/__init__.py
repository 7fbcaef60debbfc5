"""Paper: records, sheets and labels, set into pages and drawn, on screen or into a PDF."""
