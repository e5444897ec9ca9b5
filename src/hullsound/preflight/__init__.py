"""Can the work begin? What is checked of source and target before anything else is done."""
