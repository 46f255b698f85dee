"""Section lines that people draw across the road for looking and for sheets, and the road cut along them."""
