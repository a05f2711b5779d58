"""Printed sheets at true size: drill template and part passport."""

from .passport import passport
from .template import template

__all__ = ["passport", "template"]
