"""The computation and the rules of the job. Imports no web framework; SI units inside."""
