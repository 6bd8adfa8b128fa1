"""The few conversions a person sees."""


def chainage_text(chainage_m: float) -> str:
    """Kilometres and metres: 1234.5 m is 1+234.50.

    >>> chainage_text(1234.5)
    '1+234.50'
    """
    hundredths = round(abs(chainage_m) * 100)
    sign = "-" if chainage_m < 0 and hundredths else ""
    km, rest = divmod(hundredths, 100_000)
    return f"{sign}{km}+{rest // 100:03d}.{rest % 100:02d}"
