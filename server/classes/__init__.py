"""Classes, their students, what they are asked to hand in, and what they hand in by themselves."""
