"""What queries and changes need in any place, whatever constructs they use."""
