"""Open formats in and out, with their JSON Schemas."""
