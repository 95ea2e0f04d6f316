"""What the API answers about documents, by what is asked for."""

from documents.routes import contours, documents, edits, exports, questions, sharing, translations

ROUTERS = (
    documents.router,
    edits.router,
    questions.router,
    contours.router,
    sharing.router,
    translations.router,
    exports.router,
)
"""Exports last: any word behind a document's number may be a kind of file."""
