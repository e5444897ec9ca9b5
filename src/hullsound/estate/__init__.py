"""What about all of our databases?"""
