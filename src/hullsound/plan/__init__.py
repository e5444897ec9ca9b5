"""In which order, by when, how long, how big, at what cost, and how is it checked afterwards?"""
