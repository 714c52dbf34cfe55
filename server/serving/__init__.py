"""Starting the server, what it keeps on the disk, and its backups."""
