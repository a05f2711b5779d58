"""Small drawings for tests."""

#: A sign in five flat colours that sit exactly on appearances of the black, gold, white stack.
SIGN = b"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 40" width="60mm" height="40mm">
<rect width="60" height="40" fill="#121212"/>
<rect x="4" y="4" width="20" height="12" fill="#D9B25A"/>
<rect x="30" y="4" width="10" height="12" fill="#F4F2EC"/>
<circle cx="50" cy="28" r="5" fill="#B5A766"/>
<rect x="4" y="22" width="30" height="14" fill="#1D1B1A"/>
</svg>"""
