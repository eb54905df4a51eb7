"""What every stage yields: findings, and a result of one shape."""
