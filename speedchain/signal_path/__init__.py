"""What reaches each reader: levels, converter, frequencies, and what is wrong with them."""
