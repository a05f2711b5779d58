"""Pictures and outlines that come to the open project: they are read in the background, which takes a while."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from .core_door import core

if TYPE_CHECKING:
    from .session import Session


class Bringing:
    """Makes an edit of a file, once that is read."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def picture(self, name: str, data: bytes, replaced: int = 0) -> None:
        """Add a picture to the board, or take it in the place of one."""
        session = self._session
        history, before = session.history, session.project
        if before is None:  # the project was closed while its file was chosen
            return
        file = core("param").PictureFile(name, data)
        edit = "replace-picture" if replaced else "add-picture"
        values, frame = session.about(edit, {"file": file, "picture": replaced} if replaced else {"file": file})

        def take(changed: Any) -> None:
            if session.project is before:
                session.take(changed, core("edits").sentence(edit, values))
            elif session.history is history:  # the project went on meanwhile
                self.picture(name, data, replaced)

        run = core("workshop").apply_values
        session.jobs.submit("picture file", lambda cancelled: run(before, edit, values, frame), take, session.trouble.emit)

    def outline(self, name: str, data: bytes) -> None:
        """Cut the board like that of another project or drawing, which is made out first."""
        param, taken = core("param"), core("outline_file")
        self._session.jobs.submit(
            "outline file",
            lambda cancelled: taken.outline_file(param.PictureFile(name, data)),
            lambda rings: self._session.edit("take-outline", {"file": rings}),
            self._session.trouble.emit,
        )
