"""What rules answer when they are asked: reasons, and distances."""
