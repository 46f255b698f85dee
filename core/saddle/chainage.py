"""Chainage as people write it."""

import re

from saddle.errors import SaddleError


def format_chainage(chainage: float, decimals: int = 3) -> str:
    """Metres as km+m: 1234.5 -> '1+234.500'; below zero with a sign in front."""
    scaled = round(abs(chainage) * 10**decimals)
    km, rest = divmod(scaled, 1000 * 10**decimals)
    sign = "-" if chainage < 0 and scaled else ""
    width = 4 + decimals if decimals else 3
    return f"{sign}{km}+{rest / 10**decimals:0{width}.{decimals}f}"


def parse_chainage(text: str) -> float:
    """'1+234.5' or '1234.5' in metres. Raises SaddleError."""
    match = re.fullmatch(r"\s*(-?)(?:(\d+)\+(\d{3}(?:\.\d+)?)|(\d+(?:\.\d+)?))\s*m?\s*", text)
    if not match:
        raise SaddleError(f"“{text}” is not a chainage", hint="write 1234.5 or 1+234.5")
    sign, km, rest, plain = match.groups()
    value = float(plain) if plain is not None else 1000 * int(km) + float(rest)
    return -value if sign else value
