"""The balance of every hour: what is used at once, stored, sold, bought, thrown away or missing."""
