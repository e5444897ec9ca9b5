"""Where does the source use a construct?  Rows of knowledge and named predicates, run over the nodes of statements."""
