"""The window: Qt Widgets that show the job and send edits to the workbench."""

# before Qt, which reads the source of every module that is imported after it
from ..core.state import progress as _progress  # noqa: F401
