"""What suites share: documents, hands on a window, checkers that know nothing of the program."""
