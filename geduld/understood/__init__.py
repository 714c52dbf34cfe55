"""What a student's program was understood as, in the notation's words."""
