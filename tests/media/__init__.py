"""Files as cameras write them, and what is read out of them."""
