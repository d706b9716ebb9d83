"""How thick is the film, and how sure can one be of it?"""
