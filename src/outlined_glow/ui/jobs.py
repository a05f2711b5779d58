"""The one door for background work: core functions on a worker, results on the main thread, the latest wins."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal

from ..core.errors import Trouble

if TYPE_CHECKING:
    from concurrent.futures import ThreadPoolExecutor


class _Job(NamedTuple):
    key: str
    run: Callable[[Callable[[], bool]], Any]
    done: Callable[[Any], None]
    failed: Callable[[str], None]
    dropped: threading.Event


class Jobs(QObject):
    """Runs jobs by key. A newer job of a key cancels the older one and drops its result."""

    busy = pyqtSignal(bool)
    broke = pyqtSignal(object)  # BaseException nobody expected
    _finished = pyqtSignal(object, object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool: ThreadPoolExecutor | None = None
        self._latest: dict[str, _Job] = {}
        self._running = 0
        self._finished.connect(self._deliver)

    def submit(
        self,
        key: str,
        run: Callable[[Callable[[], bool]], Any],
        done: Callable[[Any], None],
        failed: Callable[[str], None],
    ) -> None:
        """Run `run(cancelled)` in the background, then `done(result)` or `failed(sentence)` here."""
        self.cancel(key)
        job = _Job(key, run, done, failed, threading.Event())
        self._latest[key] = job
        self._running += 1
        if self._running == 1:
            self.busy.emit(True)
        if self._pool is None:
            from concurrent.futures import ThreadPoolExecutor  # not on the way to the first window

            self._pool = ThreadPoolExecutor(max_workers=2, thread_name_prefix="glow")
        self._pool.submit(self._work, job)

    def cancel(self, key: str) -> None:
        """Give up the job of a key, if one is under way."""
        older = self._latest.pop(key, None)
        if older is not None:
            older.dropped.set()

    def waiting(self, key: str) -> bool:
        """Whether a job of that key is under way."""
        return key in self._latest

    def close(self) -> None:
        """Cancel everything and wait for the workers."""
        for key in list(self._latest):
            self.cancel(key)
        if self._pool is not None:
            self._pool.shutdown(wait=True, cancel_futures=True)

    def _work(self, job: _Job) -> None:
        result: Any = None
        error: BaseException | None = None
        if not job.dropped.is_set():
            try:
                result = job.run(job.dropped.is_set)
            except BaseException as problem:  # every failure must reach the main thread, which tells or logs it
                error = problem
        self._finished.emit(job, result, error)

    def _deliver(self, job: _Job, result: Any, error: BaseException | None) -> None:
        self._running -= 1
        if self._running == 0:
            self.busy.emit(False)
        if self._latest.get(job.key) is not job:
            return
        del self._latest[job.key]
        if error is None:
            job.done(result)
        elif isinstance(error, Trouble):
            job.failed(str(error))
        else:
            import logging

            logging.getLogger(__name__).error("background work “%s” failed", job.key, exc_info=error)
            job.failed("Something went wrong inside the program; your work is kept.")
            self.broke.emit(error)
