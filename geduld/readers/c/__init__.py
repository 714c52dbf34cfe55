"""Reads programs in C, with the bits of C++ that classrooms use."""
