"""The Booth place: one session, readable from two metres, one key an act."""
