"""The window: Qt Widgets that show the job and send edits to the workbench."""

import gc

# Start-up makes some hundred thousand objects that all stay: looking through them for garbage again and again costs a
# quarter of the time to the first picture. `MainWindow.build_rest` turns the collector on once the window is complete.
gc.disable()
