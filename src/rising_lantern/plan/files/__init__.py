"""Files of a plan: pictures and fonts, found in its folder and kept within limits."""
