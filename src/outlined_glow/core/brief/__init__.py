"""Purpose, limits, stack, quantity; price and days of a board."""

from . import boards as _boards
from . import edits as _edits
from .price import Price, brief_price, price_of

__all__ = ["Price", "brief_price", "price_of"]
del _boards, _edits
