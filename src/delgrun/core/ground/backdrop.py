"""The picture that lies under the map."""

from dataclasses import dataclass

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant

# The made-up picture that ships with the program.
STANDIN = "/standins/aerial"


@dataclass(frozen=True, kw_only=True)
class Backdrop:
    """Where pictures come from: the address of a Web Map Service and its layers, or a picture of one's own, by its
    number, with where it lies and its finest tiles; neither: none.
    """

    address: str = meant("line", "address", first="", says="of a Web Map Service (WMS), or the picture that ships")
    layers: str = meant("line", "layers", first="", says="names of its layers, with commas")
    opacity: float = meant("factor", "strength", low=0.1, high=1.0, first=0.8)
    picture: int | None = meant("count", "own picture", low=0, high=2**31 - 1, first=None, optional=True)
    picture_name: str = meant("line", "its file", first="")
    west_m: float | None = meant("plan", "west edge", low=-1e9, high=1e9, first=None, optional=True)
    south_m: float | None = meant("plan", "south edge", low=-1e9, high=1e9, first=None, optional=True)
    east_m: float | None = meant("plan", "east edge", low=-1e9, high=1e9, first=None, optional=True)
    north_m: float | None = meant("plan", "north edge", low=-1e9, high=1e9, first=None, optional=True)
    finest: int | None = meant("count", "finest zoom", low=-8, high=8, first=None, optional=True)

    def check(self) -> None:
        """Raises DesignInputError for what is no address."""
        if self.address and not self.address.startswith(("/", "http://", "https://")):
            raise DesignInputError("address", "An address begins with https:// or http://.")
