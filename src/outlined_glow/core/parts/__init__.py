"""The library: emitters, passives, cells and their bodies, fabricator profiles. All of it is data in files."""

from .library import Body, Emitter, Pad, Resistor, Supply, emitter, emitters, resistor, supplies, supply
from .profiles import Profile, profile, profile_of, profile_text, profiles, read_profile

__all__ = [
    "Body", "Emitter", "Pad", "Profile", "Resistor", "Supply", "emitter", "emitters", "profile", "profile_of", "profile_text",
    "profiles", "read_profile", "resistor", "supplies", "supply",
]  # fmt: skip
