"""The route of a piece: ways, stages and their work cards."""
