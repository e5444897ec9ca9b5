"""How does each engine's own client take a script apart?"""
