"""Recordings as robots and their tools write them: from bytes to a trace of a rig, and what is done with traces."""
