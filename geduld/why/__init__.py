"""Why an output is as it is at an instant, and why a line did not run: told from the record of a run."""
