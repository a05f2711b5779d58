"""The style of the application: Qt's own, with our icons where a desktop gives none (file dialogs, messages)."""

from __future__ import annotations

from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication, QProxyStyle, QStyle, QStyleOption, QWidget

from .icons import icon

_Kind = QStyle.StandardPixmap
#: Which of our icons stands for which of Qt's.
_ICONS = {
    _Kind.SP_ArrowBack: "chevron-left",
    _Kind.SP_ArrowLeft: "chevron-left",
    _Kind.SP_ArrowForward: "chevron-right",
    _Kind.SP_ArrowRight: "chevron-right",
    _Kind.SP_FileDialogToParent: "chevron-up",
    _Kind.SP_FileDialogNewFolder: "folder-plus",
    _Kind.SP_FileDialogListView: "list",
    _Kind.SP_FileDialogDetailedView: "table-properties",
    _Kind.SP_DirIcon: "folder",
    _Kind.SP_DirClosedIcon: "folder",
    _Kind.SP_DirOpenIcon: "folder-open",
    _Kind.SP_DirHomeIcon: "folder",
    _Kind.SP_DirLinkIcon: "folder",
    _Kind.SP_DriveHDIcon: "hard-drive",
    _Kind.SP_ComputerIcon: "hard-drive",
    _Kind.SP_FileIcon: "file",
    _Kind.SP_FileLinkIcon: "file",
    _Kind.SP_MessageBoxInformation: "info",
    _Kind.SP_MessageBoxWarning: "triangle-alert",
    _Kind.SP_MessageBoxCritical: "octagon-x",
    _Kind.SP_MessageBoxQuestion: "circle-help",
}


class Style(QProxyStyle):
    """Qt's Fusion style with our icons."""

    def __init__(self) -> None:
        super().__init__("Fusion")

    def standardIcon(self, standardIcon: _Kind, option: QStyleOption | None = None, widget: QWidget | None = None) -> QIcon:
        name = _ICONS.get(standardIcon)
        return icon(name) if name else super().standardIcon(standardIcon, option, widget)


def use_style(app: QApplication) -> None:
    """Draw with Qt's own style, which the style sheet is made for; setting it again would cost a tenth of the start."""
    if not app.property("styled"):
        app.setStyle(Style())
        app.setProperty("styled", True)
