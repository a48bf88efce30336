"""Paper: HTML becomes a PDF in a child process, with a limit of memory and time, so that a document
that is too large takes nobody along. No Django in here, so that the child starts quickly."""
