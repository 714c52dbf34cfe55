"""A robot to practise with: a floor that is driven in real time and tells its readings as a board would."""
