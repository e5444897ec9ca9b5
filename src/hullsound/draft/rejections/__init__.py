"""What the target would reject in a draft, so that such drafts are not promised."""
