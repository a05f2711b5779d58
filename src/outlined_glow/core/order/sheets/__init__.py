"""Printed sheets: drill template (also as a drawing for machines), passport of a part, leads, wires by hand, plain boards."""

from .lid import template_as
from .passport import passport
from .template import template

__all__ = ["passport", "template", "template_as"]
