"""Products in the store: releases, formats, lines, odds, cards, versions and what was observed of their value."""
