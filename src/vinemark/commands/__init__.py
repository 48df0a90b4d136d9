"""What the command line does, a module for each command, loaded when it is asked for."""
