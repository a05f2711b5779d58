"""Every operation there is: each registers itself when the module that holds it is loaded, and nothing else is."""

from ..artwork import edits as _artwork  # noqa: F401
from ..artwork import mends as _mends  # noqa: F401
from ..artwork import pictures as _pictures  # noqa: F401
from ..artwork import words as _words  # noqa: F401
from ..brief import boards as _boards  # noqa: F401
from ..brief import edits as _brief  # noqa: F401
from ..drive import edits as _drive  # noqa: F401
from ..drive import pin_edits as _pins  # noqa: F401
from ..drive import plug_edits as _plugs  # noqa: F401
from ..lights import edits as _lights  # noqa: F401
from ..lights import own_parts as _own_parts  # noqa: F401
from ..motion import edits as _motion  # noqa: F401
from ..shape import edits as _shape  # noqa: F401
from ..wiring import edits as _wiring  # noqa: F401
from ..wiring import label_edits as _labels  # noqa: F401
from ..wiring import lead_edits as _leads  # noqa: F401
from ..wiring import track_edits as _tracks  # noqa: F401
from . import borrow as _borrow  # noqa: F401
