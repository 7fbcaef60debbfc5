"""The window: Qt Widgets that show the job and send edits to the workbench."""

# before Qt, which reads the source of every module that is imported after it
from ..core.state import progress as _progress  # noqa: F401, I001
from PySide6 import QtCore as _QtCore  # noqa: F401
from ..loading import import_plainly

import_plainly()
