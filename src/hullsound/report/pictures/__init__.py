"""What is drawn: charts as SVG for the page and as PNG on request."""
