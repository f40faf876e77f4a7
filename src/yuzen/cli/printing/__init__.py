"""What a call prints: answers, reports, notes and errors, in colours where somebody sees them."""
