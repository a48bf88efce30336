"""Ways out, tried as a whole: against every rule of every plate that they touch, before they are
offered. Rules only name changes; here is what becomes of them."""
