"""Every way of holding the panels, priced."""
