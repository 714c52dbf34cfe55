"""What Geduld says about a program that can run: about the program, about it on a trace, about its run.

Each hint has a page in `docs/hints.md`. Errors, which keep a program from running, come from `language` and
`binding`.
"""
