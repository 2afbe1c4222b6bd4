"""The open project file: written from a project, read and checked, brought in as a new project."""
