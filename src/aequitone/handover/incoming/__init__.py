"""What is taken in from files of other programs and of persons, checked line by line."""
