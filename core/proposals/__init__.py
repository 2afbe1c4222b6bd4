"""What could be done to an element: the schools that apply, each as a complete build-up, and those that do not, with the reason."""
