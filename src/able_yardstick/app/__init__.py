"""The window: Qt Widgets that show the job and send edits to the workbench."""
