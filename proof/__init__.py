"""The proof: what the core predicts of a plan, measured as if filmed, in pixels of the simulated
camera. `make proof` measures random plans and writes docs/proof.md; a small fixed sample is among
the tests.
"""
