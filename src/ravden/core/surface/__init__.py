"""The surface under the block: what levelling it takes, by how much of it has been touched."""
