"""Which output drives which wheel, which way round each motor is mounted, and which input each sensor is on."""

from dataclasses import dataclass
from typing import Literal

from irontrail.core.errors import OutOfRangeError
from irontrail.core.quantity import Part

Output = Literal[1, 2, 3, 4]
OUTPUTS: tuple[Output, ...] = (1, 2, 3, 4)


@dataclass(frozen=True)
class Wiring(Part):
    """A mirrored motor turns its wheel backward when its output is set to a positive power.

    The second sensor's input is that of one that is mounted, or would be.
    """

    left_output: Output = 1
    right_output: Output = 2
    left_mirrored: bool = True
    right_mirrored: bool = False
    first_input: Output = 1
    second_input: Output = 2

    def __post_init__(self) -> None:
        super().__post_init__()
        for output in (self.left_output, self.right_output):
            if output not in OUTPUTS:
                raise OutOfRangeError(f"there is no output {output}", "Wiring", "1 to 4 are there.")
        for number in (self.first_input, self.second_input):
            if number not in OUTPUTS:
                raise OutOfRangeError(f"there is no input {number}", "Wiring", "1 to 4 are there.")
        if self.first_input == self.second_input:
            raise OutOfRangeError(
                f"both sensors are on input {self.first_input}", "Wiring.second_input", "Give each sensor its own."
            )
        if self.left_output == self.right_output:
            raise OutOfRangeError(
                f"both wheels are on output {self.left_output}", "Wiring.right_output", "Give each wheel its own."
            )

    def commands(self, left: float, right: float) -> dict[Output, float]:
        """What each output is set to for powers of the wheels, forward positive.

        >>> Wiring().commands(50.0, 30.0)
        {1: -50.0, 2: 30.0}
        """
        return {
            self.left_output: -left if self.left_mirrored else left,
            self.right_output: -right if self.right_mirrored else right,
        }
