"""The demonstration data, and the script that makes its traces."""
