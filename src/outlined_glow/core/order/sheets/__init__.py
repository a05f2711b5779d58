"""Printed sheets at true size: drill template (and its drawing for machines) and part passport."""

from .lid import template_as
from .passport import passport
from .template import template

__all__ = ["passport", "template", "template_as"]
