"""What stands on papers."""

import pypdfium2


def text_of(path):
    document = pypdfium2.PdfDocument(path)
    pages = [page.get_textpage().get_text_range() for page in document]
    document.close()
    return len(pages), " ".join(" ".join(pages).split())
