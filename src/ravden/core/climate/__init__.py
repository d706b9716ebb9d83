"""The air of the shop and what it does to a wet film."""
