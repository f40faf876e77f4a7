"""`make mutants`: breaks the code at one place at a time, and lists what no test notices."""
