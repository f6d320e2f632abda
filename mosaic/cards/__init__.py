"""Test cards: pictures painted for one very panel, that show on the bench what is wrong."""
