from sundial.cli import main

raise SystemExit(main())
