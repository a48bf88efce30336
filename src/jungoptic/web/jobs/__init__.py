"""Long work behind the scenes: asked for, watched, stopped, and its result kept for a day.

`models` holds what was asked for; `work` is what a piece of work sees; `kinds` lists all there are;
`carry` does one in a process of its own, as `tasks` hands it to; `again` looks after
what was asked for and nobody does any more; `api` is how it is asked for.
"""
