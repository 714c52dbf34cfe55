"""Makes steps.csv, the trace of the scenarios: 10 s at 10 Hz, simple enough to work out by hand.

range falls from 100 cm by 10 cm a second and is absent from 5.0 s to 5.4 s. nose is pressed from 4.0 s
to 4.2 s and from 7.0 s on. knob is 10 %, with one sample of 80 % at 1.5 s, and 80 % from 2.0 s on.
"""

from pathlib import Path

rows = ["time [s],nose,range [cm],knob [%]"]
for k in range(101):
    nose = int(40 <= k <= 42 or k >= 70)
    gap = "" if 50 <= k <= 54 else f"{100 - k}"
    knob = 80 if k == 15 or k >= 20 else 10
    rows.append(f"{k / 10:g},{nose},{gap},{knob}")
Path(__file__).with_name("steps.csv").write_text("\n".join(rows) + "\n")
