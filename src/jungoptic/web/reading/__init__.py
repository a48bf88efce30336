"""Files from outside, read with suspicion: in a child process with a limit of memory and time, that
may die without the server dying. No Django in here, so that the child starts quickly."""
