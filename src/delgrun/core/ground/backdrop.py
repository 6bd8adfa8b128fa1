"""The picture that lies under the map."""

from dataclasses import dataclass

from delgrun.core.errors import DesignInputError
from delgrun.core.fields import meant

# The made-up picture that ships with the program.
STANDIN = "/standins/aerial"


@dataclass(frozen=True, kw_only=True)
class Backdrop:
    """Where pictures come from: the address of a Web Map Service and its layers; no address: none."""

    address: str = meant("line", "address", first="", says="of a Web Map Service (WMS), or the picture that ships")
    layers: str = meant("line", "layers", first="", says="names of its layers, with commas")
    opacity: float = meant("factor", "strength", low=0.1, high=1.0, first=0.8)

    def check(self) -> None:
        """Raises DesignInputError for what is no address."""
        if self.address and not self.address.startswith(("/", "http://", "https://")):
            raise DesignInputError("address", "An address begins with https:// or http://.")
