"""Station 2: bringing a device up, with the virtual panel, test cards, the fault finder and drills."""
