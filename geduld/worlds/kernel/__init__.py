"""The floor's physics, written so that it runs compiled and uncompiled with the same results to the last bit."""
