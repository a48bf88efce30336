"""What the crew holds, and what came of it: set cards, cautions, takes."""
