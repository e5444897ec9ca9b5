"""The means of rewriting: points on tokens, names, texts and comments as a target writes them."""
