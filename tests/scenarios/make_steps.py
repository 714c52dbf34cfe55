"""Makes the traces of the scenarios: 10 s at 10 Hz, simple enough to work out by hand.

steps.csv: range falls from 100 cm by 10 cm a second and is absent from 5.0 s to 5.4 s. nose is pressed from
4.0 s to 4.2 s and from 7.0 s on. knob is 10 %, with one sample of 80 % at 1.5 s, and 80 % from 2.0 s on. The
radio says "go" from 1.0 s to 1.9 s and "stop" from 3.0 s on.

recorded.csv: the left wheel turns by 20 deg and the right one by 16 deg from sample to sample, from 1.0 s on.
"""

from pathlib import Path

HERE = Path(__file__).parent

rows = ["time [s],nose,range [cm],knob [%],radio"]
for k in range(101):
    nose = int(40 <= k <= 42 or k >= 70)
    gap = "" if 50 <= k <= 54 else f"{100 - k}"
    knob = 80 if k == 15 or k >= 20 else 10
    radio = "go" if 10 <= k <= 19 else "stop" if k >= 30 else ""
    rows.append(f"{k / 10:g},{nose},{gap},{knob},{radio}")
(HERE / "steps.csv").write_text("\n".join(rows) + "\n")

rows = ["time [s],nose,left.angle [deg],right.angle [deg]"]
rows += [f"{k / 10:g},0,{20 * max(0, k - 10)},{16 * max(0, k - 10)}" for k in range(101)]
(HERE / "recorded.csv").write_text("\n".join(rows) + "\n")
