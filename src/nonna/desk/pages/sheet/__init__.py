"""The Sheet: steps, drawing, numbers over a tape; alike for every procedure."""
