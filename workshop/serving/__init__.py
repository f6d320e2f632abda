"""What lies between an installed program and a served page: preparing, and the processes that serve."""
