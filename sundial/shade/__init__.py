"""What stands in the way of the light: skylines, yards, rays, and what shade does to panels wired together.

Light reaches the glass as factors on its parts. What gets through is traced here, and knows nothing of energy or of the sky, so that a
``RayTrace`` outlives a change of the weather, the panels' power or the plan.
"""
