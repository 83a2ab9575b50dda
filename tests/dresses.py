"""One pull as many loggers would write it: names, units, stamps, signs, encodings, rows."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime, timedelta

from pulls import Sim

Row = tuple[float, float, float, float, float]
ROWS: list[Row] = Sim(seed=4, hertz=20, seconds=6).run().rows
PSI = 6.894757

_NAMES = {  # of time, engine speed, boost and throttle
    "English": ("Time", "Engine speed", "Boost", "Throttle"),
    "German": ("Zeit", "Motordrehzahl", "Ladedruck", "Drosselklappe"),
    "German short": ("Zeit", "Drehzahl", "Ladedruck", "Drosselklappenwinkel"),
    "French": ("Temps", "Régime moteur", "Pression de suralimentation", "Papillon"),
    "Spanish": ("Tiempo", "Régimen del motor", "Presión de sobrealimentación", "Mariposa"),
    "Italian": ("Tempo", "Giri motore", "Pressione turbo", "Farfalla"),
    "Portuguese": ("Tempo", "Rotação do motor", "Pressão do turbo", "Borboleta"),
    "Dutch": ("Tijd", "Motortoerental", "Laaddruk", "Gasklep"),
    "Polish": ("Czas", "Obroty silnika", "Ciśnienie doładowania", "Przepustnica"),
}


def table(
    heads: Sequence[str],
    columns: Sequence[Callable[[Row], str]],
    *,
    mark: str = ",",
    before: Sequence[str] = (),
    after_heads: Sequence[str] = (),
    rows: Sequence[Row] = ROWS,
) -> str:
    lines = [*before, mark.join(heads), *after_heads]
    lines += [mark.join(column(row) for column in columns) for row in rows]
    return "\n".join(lines) + "\n"


def plain(
    place: int, digits: int = 3, factor: float = 1.0, offset: float = 0.0
) -> Callable[[Row], str]:
    return lambda row: f"{row[place] * factor + offset:.{digits}f}"


def comma(place: int, digits: int = 3) -> Callable[[Row], str]:
    return lambda row: f"{row[place]:.{digits}f}".replace(".", ",")


def in_quotes(column: Callable[[Row], str], point: str = ".") -> Callable[[Row], str]:
    return lambda row: f'"{column(row).replace(".", point)}"'


def clocked(how: str) -> Callable[[Row], str]:
    return lambda row: _clock(row, how)


def in_exponents(column: Callable[[Row], str]) -> Callable[[Row], str]:
    return lambda row: f"{float(column(row)):.6E}"


FOUR = (plain(0), plain(1, 1), plain(2), plain(4, 1))
UNITS = ("[s]", "[rpm]", "[kPa gauge]", "[%]")


def _named(names: Sequence[str], units: Sequence[str] = UNITS) -> list[str]:
    return [f"{name} {unit}".strip() for name, unit in zip(names, units, strict=True)]


def _clock(row: Row, how: str) -> str:
    at = datetime(2026, 5, 3, 14, 21, 7) + timedelta(seconds=row[0])
    whole = f"{at:%H:%M:%S}.{at.microsecond // 1000:03d}"
    match how:
        case "h:m:s.f":
            return whole
        case "m:s.f":
            return f"{int(row[0] // 60):02d}:{row[0] % 60:06.3f}"
        case "h:m:s":
            return whole[:8]
        case "iso":
            return f"{at:%Y-%m-%d}T{whole}"
        case "iso z":
            return f"{at:%Y-%m-%d}T{whole}Z"
        case "date space":
            return f"{at:%Y-%m-%d} {whole}"
        case "slashes":
            return f"{at:%d/%m/%Y} {whole}"
        case "dots":
            return f"{at:%d.%m.%Y} {whole}"
    return f"{(at - datetime(2026, 5, 3)).total_seconds() / 86400:.9f}"


def dresses() -> dict[str, bytes]:
    """All of them by name."""
    found: dict[str, bytes] = {}

    def add(name: str, text: str, encoding: str = "utf-8") -> None:
        assert name not in found, name
        found[name] = text.encode(encoding)

    for language, names in _NAMES.items():
        for mark, word in ((",", "comma"), (";", "semicolon"), ("\t", "tab")):
            add(f"{language}, {word}", table(_named(names), FOUR, mark=mark))
        local = (comma(0), comma(1, 1), comma(2), comma(4, 1))
        add(f"{language}, decimal comma", table(_named(names), local, mark=";"))
        add(f"{language}, no units", table(_named(names, [""] * 4), FOUR))
    english = _NAMES["English"]
    heads = _named(english)
    for encoding in ("utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "latin-1", "cp1252"):
        add(f"encoding {encoding}", table(heads, FOUR), encoding)
        german = table(_named(_NAMES["German"]), FOUR, mark=";")
        add(f"encoding {encoding}, German", german, encoding)
    for how in (
        "h:m:s.f",
        "m:s.f",
        "h:m:s",
        "iso",
        "iso z",
        "date space",
        "slashes",
        "dots",
        "days",
    ):
        columns = (clocked(how), *FOUR[1:])
        add(f"time as {how}", table(["Time", *heads[1:]], columns))
        add(f"time as {how}, semicolons", table(["Time", *heads[1:]], columns, mark=";"))
    both = (lambda row: _clock(row, "iso").split("T")[0], lambda row: _clock(row, "h:m:s.f"))
    add("date and clock in two columns", table(["Date", "Time", *heads[1:]], (*both, *FOUR[1:])))
    for unit, factor, digits in (
        ("ms", 1e3, 0),
        ("µs", 1e6, 0),
        ("us", 1e6, 0),
        ("min", 1 / 60, 6),
    ):
        columns = (plain(0, digits, factor), *FOUR[1:])
        add(f"time in {unit}", table([f"Time [{unit}]", *heads[1:]], columns))
    add("time in ms, unsaid", table(["Time", *heads[1:]], (plain(0, 0, 1e3), *FOUR[1:])))
    add("time in µs, unsaid", table(["Time", *heads[1:]], (plain(0, 0, 1e6), *FOUR[1:])))
    add("stamps of whole seconds", table(heads, (plain(0, 0), *FOUR[1:])))
    add("stamps of tenths", table(heads, (plain(0, 1), *FOUR[1:])))
    for unit, factor, digits in (
        ("psi", 1 / PSI, 3), ("bar", 0.01, 4), ("mbar", 10.0, 1), ("hPa", 10.0, 1),
        ("inHg", 1 / 3.386389, 3), ("mmHg", 7.50062, 1), ("MPa", 1e-3, 6),
        ("Pa", 1e3, 0), ("kPa", 1.0, 2),
    ):  # fmt: skip
        columns = (FOUR[0], FOUR[1], plain(2, digits, factor), FOUR[3])
        add(f"boost in {unit}", table([heads[0], heads[1], f"Boost ({unit})", heads[3]], columns))
        above = (FOUR[0], FOUR[1], plain(2, digits, factor, 101.325 * factor), FOUR[3])
        named = [heads[0], heads[1], f"MAP abs ({unit})", heads[3]]
        add(f"absolute in {unit}", table(named, above))
    for word in ("psig", "psia", "kPaA", "barg", "bara", "kPa(a)", "kPa abs"):
        base = {"p": 1 / PSI, "k": 1.0, "b": 0.01}[word[0]]
        offset = 0.0 if word.endswith("g") else 101.325 * base
        columns = (FOUR[0], FOUR[1], plain(2, 4, base, offset), FOUR[3])
        add(f"pressure as {word}", table([heads[0], heads[1], f"MAP [{word}]", heads[3]], columns))
    for name in (
        "RPM",
        "Engine RPM",
        "Eng Speed",
        "rpm",
        "Engine_Speed",
        "engineSpeed",
        "N Engine",
    ):
        add(f"speed named {name}", table([heads[0], name, *heads[2:]], FOUR))
    add("units row", table(english, FOUR, after_heads=["s,rpm,kPa,%"]))
    add(
        "types and units rows",
        table(english, FOUR, after_heads=["float,float,float,float", "s,rpm,kPa,%"]),
    )
    add(
        "description row",
        table(english, FOUR, after_heads=["since start,of the crank,above air,opening"]),
    )
    add(
        "words before",
        table(heads, FOUR, before=["Logger 12", "Date: 2026-05-03", "", "Rate: 20 Hz"]),
    )
    add("words with marks before", table(heads, FOUR, before=["Session,one,two", "a;b;c"]))
    add("numbers before", table(heads, FOUR, before=["Version,1.2", "Serial,4711"]))
    quoted = [f'"{head}"' for head in heads]
    add("quoted heads", table(quoted, FOUR))
    add(
        "quoted heads with commas",
        table(['"Time, since start [s]"', '"Speed, engine [rpm]"', *quoted[2:]], FOUR),
    )
    add("quoted figures", table(quoted, [in_quotes(c) for c in FOUR]))
    add("quoted decimal commas", table(quoted, [in_quotes(c, ",") for c in FOUR]))
    extra = (plain(1, 0, 0.4), plain(2, 2, 0.0, 2.31), plain(2, 3, 0.02, 1.0))
    more = ["Gearbox speed [rpm]", "MAP voltage [V]", "Boost target [kPa]"]
    add("other columns first", table([*more, *heads], (*extra, *FOUR)))
    add("gear by [rpm]", table(["Gearbox [rpm]", *heads], (extra[0], *FOUR)))
    add("volts first", table([heads[0], "MAP volts", *heads[1:]], (FOUR[0], extra[1], *FOUR[1:])))
    add("raw first", table([heads[0], "Boost raw", *heads[1:]], (FOUR[0], extra[1], *FOUR[1:])))
    add(
        "desired first",
        table([heads[0], "Boost desired [kPa]", *heads[1:]], (FOUR[0], extra[2], *FOUR[1:])),
    )
    every = {row: k for k, row in enumerate(ROWS)}

    def at_times(column: Callable[[Row], str], step: int, phase: int = 0) -> Callable[[Row], str]:
        return lambda row: column(row) if every[row] % step == phase else ""

    add("slower boost", table(heads, (FOUR[0], FOUR[1], at_times(FOUR[2], 2), FOUR[3])))
    add("slower speed", table(heads, (FOUR[0], at_times(FOUR[1], 2), FOUR[2], FOUR[3])))
    add("in turn", table(heads, (FOUR[0], at_times(FOUR[1], 2), at_times(FOUR[2], 2, 1), FOUR[3])))
    add("slow throttle", table(heads, (*FOUR[:3], at_times(FOUR[3], 10))))
    add("dead throttle", table(heads, (*FOUR[:3], lambda _row: "")))
    add("broken throttle", table(heads, (*FOUR[:3], at_times(FOUR[3], 7, 3))))
    add(
        "words for gaps",
        table(heads, (*FOUR[:3], lambda r: "N/A" if every[r] % 9 == 0 else FOUR[3](r))),
    )
    held = {row: ROWS[(k // 4) * 4] for k, row in enumerate(ROWS)}
    add("held boost", table(heads, (FOUR[0], FOUR[1], lambda row: FOUR[2](held[row]), FOUR[3])))
    add("spaces round marks", table(heads, FOUR, mark=" , "))
    add("bars", table(heads, FOUR, mark="|"))
    add("trailing marks", table(heads, FOUR).replace("\n", ",\n"))
    add("Windows ends", table(heads, FOUR).replace("\n", "\r\n"))
    add("blank lines", table(heads, FOUR).replace("\n", "\n\n"))
    add("numbers with exponents", table(heads, [in_exponents(c) for c in FOUR]))
    add("heads repeated", table(heads, FOUR, rows=ROWS[:90]) + table(heads, FOUR, rows=ROWS[90:]))
    add("comment lines", table(heads, FOUR, before=["# made by a logger", "# 20 Hz"]))
    return found
