"""Files to arrays and back, streaming: memory stays flat however long a clip is. No Django."""
