"""The frame bench on the server: exposure sheets, move charts, and what leaves of them."""
