"""What ships with the program to start from: descriptions of made-up controllers."""
