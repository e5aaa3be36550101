"""What stands in the way of the light: skylines, yards, rays, and what shade does to panels wired together."""
