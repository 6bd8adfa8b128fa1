"""What drawings are written as; apart from their writers, whose libraries take a while to import."""

from typing import Literal

DrawingForm = Literal["pdf", "svg", "dxf"]
MIME: dict[DrawingForm, str] = {"pdf": "application/pdf", "svg": "image/svg+xml", "dxf": "image/vnd.dxf"}
