"""Questions of students about their scores."""
