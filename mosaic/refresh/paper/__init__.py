"""E-paper: when it is cleaned, what that costs, and what of former pictures is left on the glass."""
