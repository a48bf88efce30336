"""`make siege`: the whole product under kills, nonsense and crowds, and what was lost by it."""
