"""Which queries prove after the move that nothing was lost, and what do they say?"""
