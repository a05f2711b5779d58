"""What a stack looks like, made by a fabricator."""

from __future__ import annotations

from ..colour.materials import Materials, materials_of
from ..parts import Profile
from ..project import Stack


def look_of(stack: Stack, rules: Profile) -> Materials:
    """The appearances of a stack made by a fabricator, who may have neither mask nor ink."""
    return materials_of(stack.mask, stack.finish, stack.ink, stack.thickness_mm, rules.has_mask)
