"""What is drawn beside the evaluation: the signal and its options, a readout over speed."""
