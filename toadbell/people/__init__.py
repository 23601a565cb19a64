"""Who is let in: people with their browsers and phones, by words or by a secret, until they are shut out."""
