"""What a file is to a reader: bytes of a known number, and a place among them."""

import errno
import io


class SizedFile(io.RawIOBase):
    """A file that is only read, from wherever its `readinto` has the bytes at `at`."""

    def __init__(self, size: int) -> None:
        self.size, self.at = size, 0

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def tell(self) -> int:
        return self.at

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        place = {io.SEEK_SET: 0, io.SEEK_CUR: self.at, io.SEEK_END: self.size}[whence] + offset
        if place < 0:
            # As a file of the system says it: libraries that look from the end of a short file wait for that.
            raise OSError(errno.EINVAL, "a place before the beginning of the file")
        self.at = place
        return place
