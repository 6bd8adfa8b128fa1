"""What the machine lacks, said plainly."""


class MachineError(RuntimeError):
    """Something outside the program is missing or refuses; the message says what and what to do."""
