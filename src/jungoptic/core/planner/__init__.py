"""One plate against the owned kit: search, rank, explain.

`space` says what may be varied, `table` asks every rule of every candidate at once, `search` ranks
them and words the answer, `misses` says what would be needed when nothing holds, `replan` looks at
many plates after the kit has changed.
"""

from .misses import Miss
from .replan import Change, replan
from .search import Search, Way, search, verdict_now
from .space import Space, Wishes, space_for

__all__ = [
    "Change",
    "Miss",
    "Search",
    "Space",
    "Way",
    "Wishes",
    "replan",
    "search",
    "space_for",
    "verdict_now",
]
