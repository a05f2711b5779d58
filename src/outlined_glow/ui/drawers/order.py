"""Order: findings, price, and the package with its proof."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QUrl, pyqtSignal
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QProgressBar

from ..core_door import core
from ..drag_out import DragOut
from ..finding_words import counted
from ..widgets import button, label, link
from .base import Drawer, FindingsCard, Window


class OrderDrawer(Drawer):
    """What stands in the way, what it costs, and the files."""

    export_wanted = pyqtSignal()

    def build(self) -> None:
        self.all = FindingsCard("Findings", detailed=True)
        self.all.chosen.connect(lambda finding: self.show_place.emit(finding, 0))
        self.all.remedied.connect(lambda edit, values: self.session.edit(edit, values))
        self.clean = self.add_card("Findings", "none")
        self.clean.add(label("No findings. You can order this board.", "sea", wrap=True))
        self.cards.addWidget(self.all)
        self.clean.hide()
        price = self.add_card("Example price", "credits · boards only")
        self.price = price
        self.each = price.figure("per board", why=self._why)
        self.together = price.figure("order")
        self.saves = label("", "sea", wrap=True)
        price.add(self.saves)
        self.package = self.add_card("Package")
        self.state = label(
            "Not exported yet. The package holds Gerber X2, drill, placement and parts files, and pictures.", "quiet", True
        )
        self.package.add(self.state)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.hide()
        self.package.add(self.bar)
        self.proof = label("", "sea", wrap=True)
        self.proof.hide()
        self.package.add(self.proof)
        self.stop_link = link("cancel export", self._stop)
        self.stop_link.hide()
        self.package.add(self.stop_link)
        self.file = DragOut()
        self.file.hide()
        self.file.copied.connect(self.session.said.emit)
        self.package.add(self.file)
        self.open = link("open the folder", self._open)
        self.open.hide()
        self.package.add(self.open)
        self.main = button("Export…", self._main, filled=True)
        self.foot.addWidget(self.main)
        self.draft = button("Export the draft…", self.export_wanted.emit)
        self.draft.hide()
        self.foot.addWidget(self.draft)
        self._folder: Path | None = None
        self._stops: list[Any] = []
        self._cancelled = False

    def show_findings(self, findings: Sequence[Any]) -> None:
        self.all.show_findings(list(findings))
        self.clean.setVisible(not findings)
        self._stops = [one for one in findings if one.severity == "stop"]
        self.main.setText("Show the stop" if self._stops else "Export…")
        self.draft.setVisible(bool(self._stops))
        self.subtitle.set_full(counted(findings) if findings else "ready to order")

    def attach(self, window: Window) -> None:
        super().attach(window)
        self.export_wanted.connect(window.export)

    def show_work(self, work: Any) -> None:
        brief_price, over = core("price").brief_price, core("price").over_step
        brief = work.brief
        price = brief_price(brief, work.board.size, work.board.edge_copper)
        self.each.setText(f"{price.each:.2f}")
        self.together.setText(f"{price.boards:.2f} for {price.pieces}")
        step = over(brief, work.board.size)
        self.saves.setVisible(step is not None)
        if step is not None:
            self.saves.setText(f"{step[0]:.1f} mm narrower saves {step[1]:.2f}")

    def _why(self) -> None:
        if self.session.work is not None:
            self.why(core("why").why_price(self.session.work))

    def _main(self) -> None:
        if self._stops:
            stop = self._stops[0]
            if stop.stage != "order":
                self.go.emit(stop.stage)
            self.show_place.emit(stop, 0)
        else:
            self.export_wanted.emit()

    # -- exporting ------------------------------------------------------------------------------------------------

    def export_to(self, target: Path) -> None:
        """Make the package in the background, read it back from disk, and say what came of it."""
        session, project = self.session, self.session.project
        if project is None or session.work is None:
            return
        self._cancelled = False
        self.bar.setRange(0, 1000)
        self.bar.setValue(0)
        self.bar.show()
        self.stop_link.show()
        self.open.hide()
        self.file.hide()
        self.proof.hide()
        self.state.setText(f"Writing {target.name}…")
        self.bring_into_view(self.package)
        self.main.setEnabled(False)
        self.draft.setEnabled(False)
        progress = _Progress(self)
        progress.moved.connect(lambda share: self.bar.setValue(round(share * 1000)))
        pieces, edited = project.brief.pieces, core("storage").dated(project.edited)

        def run(cancelled: Any) -> Any:
            order = core("order")
            # The project as it is now, also while its board is still being made.
            boards = {work.design.name: work.board for work in session.making.made(project, cancelled)}
            package = order.package_of(
                boards,
                pieces,
                edited,
                lambda share, _: progress.moved.emit(share * 0.7),
                lambda: cancelled() or self._cancelled,
            )
            order.write_package(package, target, force=True)
            progress.moved.emit(0.75)
            return len(package.files), order.prove_boards(target, boards)

        session.jobs.submit("export", run, lambda result: self._exported(target, *result), self._failed)

    def _stop(self) -> None:
        self._cancelled = True

    def _settle(self) -> None:
        self.bar.hide()
        self.stop_link.hide()
        self.main.setEnabled(True)
        self.draft.setEnabled(True)

    def _failed(self, words: str) -> None:
        self._settle()
        self.state.setText(words)

    def _exported(self, target: Path, count: int, proofs: Mapping[str, Any]) -> None:
        self._settle()
        self._folder = target if target.is_dir() else target.parent
        self.state.setText(f"{target.name}: {count} files")
        self.package.aside.set_full("read back")
        differences = [
            f"{name}: {one.text}" if name else one.text for name, proof in proofs.items() for one in proof.differences
        ]
        if all(proof.good for proof in proofs.values()):
            self.proof.setText("The proof agrees: the files, read back from disk, are what the board says.")
        else:
            self.proof.setText("The proof differs: " + " ".join(differences[:3]))
        self.proof.show()
        self.file.show_file(target)
        self.file.show()
        self.open.show()
        self.bring_into_view(self.package)

    def _open(self) -> None:
        if self._folder is not None:
            QDesktopServices.openUrl(QUrl.fromLocalFile(str(self._folder)))


class _Progress(QObject):
    """Carries progress from the worker to the main thread."""

    moved = pyqtSignal(float)
