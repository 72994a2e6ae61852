"""The playhead: where in the run the robot is shown, and how it moves on."""

from PySide6.QtCore import QElapsedTimer, QObject, QTimer, Signal

RATES = (0.125, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0)
# Half the screen's usual rate: smooth enough for a robot, and half the work.
FRAME_MS = 33


class Playback(QObject):
    """A clock over 0..duration that can play, pause, step, be dragged, and starts over at the end."""

    moved = Signal(float)
    changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.time_s = 0.0
        self.duration_s = 0.0
        self.rate = 1.0
        self.loops = True
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._tick)
        self._since = QElapsedTimer()

    @property
    def playing(self) -> bool:
        return self._timer.isActive()

    def set_duration(self, duration_s: float) -> None:
        """The run has another length; the playhead stays where it is as far as it can."""
        self.duration_s = duration_s
        if self.time_s > duration_s:
            self.seek(duration_s)

    def seek(self, time_s: float) -> None:
        """Put the playhead at a time."""
        self.time_s = min(max(time_s, 0.0), self.duration_s)
        self.moved.emit(self.time_s)

    def play(self) -> None:
        """Start, from the beginning if the end has been reached."""
        if self.time_s >= self.duration_s:
            self.seek(0.0)
        self._since.start()
        self._timer.start()
        self.changed.emit()

    def pause(self) -> None:
        """Stop where it is."""
        self._timer.stop()
        self.changed.emit()

    def toggle(self) -> None:
        """Play if paused, pause if playing."""
        if self.playing:
            self.pause()
        else:
            self.play()

    def step(self, by_s: float) -> None:
        """Pause and move by a time, back if negative."""
        self.pause()
        self.seek(self.time_s + by_s)

    def set_rate(self, rate: float) -> None:
        """Play at so many times the real speed."""
        self.rate = rate
        self.changed.emit()

    def change_rate(self, by: int) -> None:
        """Go so many places up or down the playing speeds."""
        place = RATES.index(self.rate) + by
        self.set_rate(RATES[min(max(place, 0), len(RATES) - 1)])

    def set_loops(self, loops: bool) -> None:
        """Whether to start over at the end."""
        self.loops = loops
        self.changed.emit()

    def _tick(self) -> None:
        passed = self._since.restart() / 1000.0
        self.advance(passed)

    def advance(self, passed_s: float) -> None:
        """Move on by a time of the watcher's clock."""
        time_s = self.time_s + passed_s * self.rate
        if time_s >= self.duration_s:
            if self.loops:
                time_s = 0.0
            else:
                self.pause()
        self.seek(time_s)
