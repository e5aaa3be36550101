from sundial.lazily import load_lazily

load_lazily()

from sundial.cli import main  # noqa: E402  (what it imports is loaded lazily)

raise SystemExit(main())
