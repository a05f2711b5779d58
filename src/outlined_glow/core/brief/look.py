"""What a stack looks like, made at a desk."""

from __future__ import annotations

from ..colour.materials import Materials, materials_of
from ..parts import Profile
from ..project import Stack


def look_of(stack: Stack, rules: Profile) -> Materials:
    """The appearances of a stack at a desk, which may have neither mask nor ink."""
    return materials_of(stack.mask, stack.finish, stack.ink, stack.thickness_mm, rules.has_mask)
