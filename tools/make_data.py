"""Makes the demo data of Kestrel Sound Ferries, an invented company; the same every time.

Run it from the project's folder: python tools/make_data.py
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pandas as pd

FOLDER = Path(__file__).parents[1] / "src" / "yuzen" / "demo" / "data"
SEED = 2606

# Route, waters, passengers in a usual month, fare in crowns, cost of a sailing, sailings a month.
FERRIES = [
    ("Brinewick", "North Reach", 3900, 6.2, 186, 150),
    ("Cinderquay", "Kestrel Sound", 4700, 7.1, 148, 170),
    ("Dunmarrow", "Outer Isles", 1250, 11.4, 205, 62),
    ("Eelstone", "Kestrel Sound", 2900, 5.9, 121, 124),
    ("Farrowness", "North Reach", 1700, 8.3, 152, 84),
    ("Gullhaven", "Kestrel Sound", 4150, 6.4, 140, 160),
    ("Hollowmere", "Saltmarsh", 860, 5.2, 96, 60),
    ("Ivernsay", "Outer Isles", 2050, 12.1, 231, 90),
    ("Kelpwick", "Outer Isles", 690, 10.2, 172, 44),
    ("Larkholm", "Saltmarsh", 2350, 4.8, 88, 112),
    ("Mossgate", "Saltmarsh", 1980, 5.1, 93, 100),
    ("Ninefathom", "Outer Isles", 1480, 13.0, 214, 78),
    ("Otterby", "North Reach", 1120, 7.7, 131, 62),
    ("Pellburn", "Kestrel Sound", 2480, 6.0, 118, 110),
    ("Quarrel Head", "North Reach", 540, 9.6, 160, 36),
    ("Rookstairs", "Saltmarsh", 1340, 5.6, 101, 70),
    ("Sandsend Ferry", "Saltmarsh", 3050, 4.4, 90, 140),
    ("Thistle Roads", "North Reach", 2210, 7.9, 143, 102),
    ("Ullerwater", "Outer Isles", 930, 11.0, 166, 56),
    ("Vane Harbour", "Kestrel Sound", 3420, 6.8, 133, 142),
]
FREIGHT = [
    ("Cinderquay Freight", "Kestrel Sound", 310, 610.0, 1450, 66),
    ("Ivernsay Freight", "Outer Isles", 120, 690.0, 1610, 32),
    ("Northern Line", "North Reach", 205, 720.0, 1540, 48),
]
CAUSES = {"Fog": 61, "High wind": 61, "Swell": 47, "Engine": 34, "Crew short": 21, "Berth taken": 9}
VESSELS = ["Kittiwake", "Sea Thrift", "Guillemot", "Marram", "Tern", "Samphire"]
MODULES = ["Fire", "First aid", "Lifeboats", "Navigation", "Passenger care"]


def routes(random: np.random.Generator) -> pd.DataFrame:
    """One row for each route and month, July 2023 to June 2026; a few numbers are missing."""
    months = pd.date_range("2023-07-01", periods=36, freq="MS")
    season = 1 + 0.34 * np.cos((months.month.to_numpy() - 7.4) / 12 * 2 * np.pi)
    tables = []
    for service, lines in (("ferry", FERRIES), ("freight", FREIGHT)):
        for name, waters, usual, fare, cost, sailings in lines:
            trend = np.linspace(1, random.uniform(0.86, 1.16), len(months))
            swing = season if service == "ferry" else 1 + (season - 1) * 0.2
            passengers = np.round(usual * swing * trend * random.normal(1, 0.05, len(months)))
            planned = np.round(sailings * (1 + (swing - 1) * 0.45))
            rough = np.clip(
                0.035 - 0.05 * (season - 1) + random.normal(0, 0.012, len(months)), 0, 1
            )
            cancelled = np.round(planned * rough)
            fares = np.round(passengers * fare * random.normal(1, 0.015, len(months)))
            running = np.round((planned - cancelled) * cost * random.normal(1, 0.03, len(months)))
            tables.append(
                pd.DataFrame(
                    {
                        "month": months.strftime("%Y-%m"),
                        "route": name,
                        "waters": waters,
                        "service": service,
                        "passengers": passengers.astype(int),
                        "target_passengers": int(round(usual * 1.02, -1)),
                        "fares": fares.astype(int),
                        "cost": running.astype(int),
                        "surplus": (fares - running).astype(int),
                        "sailings": (planned - cancelled).astype(int),
                        "cancelled": cancelled.astype(int),
                        "on_time": np.clip(
                            random.normal(0.93 - rough, 0.02, len(months)), 0.5, 1
                        ).round(3),
                        "target_on_time": 0.9,
                        "complaints": random.poisson(passengers * 0.0035 + rough * 60),
                    }
                )
            )
    table = pd.concat(tables, ignore_index=True)
    lost = random.choice(len(table), 5, replace=False)
    table["on_time"] = table["on_time"].mask(table.index.isin(lost))
    return table


def cancellations() -> pd.DataFrame:
    """Cancelled sailings by cause, in the year to June 2026; two causes tie."""
    return pd.DataFrame({"cause": list(CAUSES), "sailings": list(CAUSES.values())})


def waves(random: np.random.Generator) -> pd.DataFrame:
    """Daily wave height in metres at the Cinderquay pier, July 2025 to June 2026."""
    days = pd.date_range("2025-07-01", "2026-06-30", freq="D")
    year = 1.15 - 0.55 * np.cos((days.day_of_year.to_numpy() - 20) / 365 * 2 * np.pi + np.pi)
    drift = pd.Series(random.normal(0, 0.35, len(days))).ewm(span=5).mean().to_numpy()
    height = np.clip(year + drift * 2, 0.1, None).round(2)
    return pd.DataFrame({"day": days.strftime("%Y-%m-%d"), "wave_height": height})


def departures(random: np.random.Generator) -> pd.DataFrame:
    """One row for each departure from Cinderquay in spring 2026, with its minutes late."""
    days = pd.date_range("2026-04-01", "2026-06-30")
    hours = np.array([6, 7, 8, 9, 11, 13, 15, 16, 17, 18, 20])
    planned = (days.to_numpy()[:, None] + hours.astype("timedelta64[h]")).ravel()
    planned = planned + random.choice([0, 10, 20, 30], len(planned)).astype("timedelta64[m]")
    of_day, weekday = pd.Series(planned).dt.hour, pd.Series(planned).dt.day_of_week
    rush = of_day.isin([7, 8, 17, 18]) & (weekday < 5) | ((weekday == 4) & (of_day >= 15))
    late = np.round(random.gamma(1.6, np.where(rush, 6.0, 2.4)))
    boarded = np.round(random.normal(np.where(rush, 96, 48), 14)).clip(4, 140)
    keep = random.random(len(planned)) > 0.03  # cancelled, so they never left
    table = pd.DataFrame({"planned": planned, "minutes_late": late, "boarded": boarded})
    return table[keep].astype({"minutes_late": int, "boarded": int})


def training(random: np.random.Generator) -> pd.DataFrame:
    """Crew training scores, 0 to 100, by vessel and module."""
    rows = [
        (vessel, module, int(np.clip(random.normal(78, 11), 30, 100)))
        for vessel in VESSELS
        for module in MODULES
    ]
    return pd.DataFrame(rows, columns=["vessel", "module", "score"])


def main() -> None:
    """Write all tables as CSV files."""
    random = np.random.default_rng(SEED)
    FOLDER.mkdir(parents=True, exist_ok=True)
    tables = {
        "routes": routes(random),
        "cancellations": cancellations(),
        "waves": waves(random),
        "training": training(random),
        "departures": departures(random),
    }
    for name, table in tables.items():
        table.to_csv(FOLDER / f"{name}.csv", index=False)
        print(f"{name}.csv: {len(table):,} rows")


if __name__ == "__main__":
    main()
