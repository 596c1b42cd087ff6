"""The preview page: one file in which a plan is judged, and the data that it is drawn from."""
