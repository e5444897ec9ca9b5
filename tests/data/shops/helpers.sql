prompt helper &1
