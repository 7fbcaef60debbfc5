"""A signed record as a PDF: drawn from it alone, and with it inside."""

import json
from typing import Any

from ...core.sign.sheet import sheet_of
from .pdf import pdf_of
from .typeset import A4, Paper, typeset

ATTACHED = "record.json"


def record_pdf(sealed: dict[str, Any], paper: Paper = A4) -> bytes:
    """The PDF of a sealed record."""
    sheet = sheet_of(sealed["record"], sealed["sha256"], sealed["signatures"])
    data = json.dumps(sealed, ensure_ascii=False, indent=1).encode()
    return pdf_of(typeset(sheet, paper), paper, f"{sheet.title}: {sheet.subtitle}", (ATTACHED, data))
