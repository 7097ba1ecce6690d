"""What stands around every station: header, route, move panel, keys, status line, darkening."""
