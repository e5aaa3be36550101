"""The shade: the yard and its drawing.

The yard is drawn in the browser from one JSON document (``document``): undo, redo and dragging are the browser's, lengths and refusals the server's.
"""
