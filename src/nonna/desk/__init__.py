"""The Qt desk: loop, sheets, tape, tools, book. No arithmetic."""
