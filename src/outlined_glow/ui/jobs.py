"""The one door for background work: core functions on a worker, results on the main thread, the latest wins."""

from __future__ import annotations

import contextlib
import os
import queue
import sys
import threading
import time
from collections.abc import Callable
from typing import Any, NamedTuple, TypeVar

from PyQt6.QtCore import QCoreApplication, QEventLoop, QObject, pyqtSignal

from ..core.errors import Trouble
from ..core.watch import Cancelled, given_way_by
from .window_first import wait_for_window, window_first

_Made = TypeVar("_Made")
_WORKERS = 2
#: How long a thread may keep the interpreter from another (s), where Python's own 0.005 makes every call of the window's
#: thread wait for a worker; and how much less a worker asks of the processor, where the system has that for a thread.
_TURN_S, _NICE = 0.0005, 10


class _Job(NamedTuple):
    key: str
    run: Callable[[Callable[[], bool]], Any]
    done: Callable[[Any], object]
    failed: Callable[[str], None]
    dropped: threading.Event


def meanwhile(run: Callable[[], _Made]) -> _Made:
    """Run on a thread what must be over before the window goes on: it paints meanwhile, and takes no input."""
    made: list[_Made] = []
    failed: list[BaseException] = []

    def work() -> None:
        try:
            made.append(run())
        except BaseException as problem:  # told where it was asked for
            failed.append(problem)

    thread = threading.Thread(target=work, name="meanwhile")
    thread.start()
    while thread.is_alive():
        QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents, 10)
        thread.join(0.004)
    if failed:
        raise failed[0]
    return made[0]


class Jobs(QObject):
    """Runs jobs by key. A newer job of a key cancels the older one and drops its result."""

    busy = pyqtSignal(bool)
    broke = pyqtSignal(object)  # BaseException nobody expected
    _finished = pyqtSignal(object, object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._workers: list[threading.Thread] = []
        self._queue: queue.SimpleQueue[_Job | None] = queue.SimpleQueue()
        self._closed = False
        self._latest: dict[str, _Job] = {}
        self._running = 0
        sys.setswitchinterval(_TURN_S)
        self._finished.connect(self._deliver)

    def submit(
        self,
        key: str,
        run: Callable[[Callable[[], bool]], Any],
        done: Callable[[Any], object],
        failed: Callable[[str], None],
    ) -> None:
        """Run `run(cancelled)` in the background, then `done(result)` or `failed(sentence)` here. Nothing once closed."""
        self.cancel(key)
        if self._closed:
            return
        job = _Job(key, run, done, failed, threading.Event())
        self._latest[key] = job
        self._running += 1
        if self._running == 1:
            self.busy.emit(True)
        if not self._workers:
            # Daemons: whatever a library is busy with, it keeps no closed window in memory.
            self._workers = [threading.Thread(target=self._serve, name=f"glow-{n}", daemon=True) for n in range(_WORKERS)]
            for worker in self._workers:
                worker.start()
        self._queue.put(job)

    def cancel(self, key: str) -> None:
        """Give up the job of a key, if one is under way."""
        older = self._latest.pop(key, None)
        if older is not None:
            older.dropped.set()

    def waiting(self, key: str) -> bool:
        """Whether a job of that key is under way."""
        return key in self._latest

    @property
    def idle(self) -> bool:
        """Whether nobody waits for any job."""
        return not self._latest

    def close(self, seconds: float = 1.5) -> bool:
        """Cancel everything, take no more, and give the workers that long to end; whether they did."""
        self._closed = True
        for key in list(self._latest):
            self.cancel(key)
        for _ in self._workers:
            self._queue.put(None)
        end = time.monotonic() + seconds
        for worker in self._workers:
            worker.join(max(0.0, end - time.monotonic()))
        return not any(worker.is_alive() for worker in self._workers)

    def _serve(self) -> None:
        with contextlib.suppress(AttributeError, OSError):
            here = os.getpriority(os.PRIO_PROCESS, 0)
            os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), min(19, here + _NICE))
        while (job := self._queue.get()) is not None:
            self._work(job)

    def _work(self, job: _Job) -> None:
        result: Any = None
        error: BaseException | None = None

        def dropped() -> bool:
            wait_for_window()
            return job.dropped.is_set()

        def hold() -> None:
            if dropped():
                raise Cancelled

        if not dropped():
            given_way_by(hold)
            try:
                result = job.run(dropped)
            except BaseException as problem:  # every failure must reach the main thread, which tells or logs it
                error = problem
        with contextlib.suppress(RuntimeError):  # the window is gone, and nobody waits for this
            self._finished.emit(job, result, error)

    def _deliver(self, job: _Job, result: Any, error: BaseException | None) -> None:
        self._running -= 1
        if self._running == 0:
            self.busy.emit(False)
        if self._latest.get(job.key) is not job:
            return
        del self._latest[job.key]
        window_first()
        if error is None:
            job.done(result)
        elif isinstance(error, Trouble):
            job.failed(str(error))
        else:
            import logging

            logging.getLogger(__name__).error("background work “%s” failed", job.key, exc_info=error)
            job.failed("Something went wrong inside the program; your work is kept.")
            self.broke.emit(error)
