"""The bench: simulated stand-ins for generator, reader, gauge and satellite receiver, and the tests made with them."""
