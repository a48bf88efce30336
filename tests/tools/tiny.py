"""The smallest application that gunicorn can serve."""


def app(environ, start_response):
    """Says hello."""
    start_response("200 OK", [("Content-Type", "text/plain")])
    return [b"hello"]
