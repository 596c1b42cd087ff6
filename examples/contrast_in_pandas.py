"""Contrast in pandas: the contrast of each part of the header at every px of scroll, as a table.

Draws contrast-in-pandas.png, the scroll chart of the page.
"""

from matplotlib.figure import Figure

import rising_lantern as rl

plan = rl.read(rl.sample_site())
view = plan.view("home", "laptop")

table = view.contrast()
lowest = table.loc[table.groupby(["part", "look"])["contrast"].idxmin()]
print(lowest.to_string(index=False, float_format="%.2f"))

menu = table[table["part"] == "menu"]
print(f"The menu is below 7 on {(menu['contrast'] < 7).sum()} px of scroll.")

figure = Figure(figsize=(11, 4), layout="constrained")
view.chart(figure.subplots())
figure.savefig("contrast-in-pandas.png", dpi=100)
