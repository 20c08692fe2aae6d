"""Measured from a picture: sharpness at a slanted edge, the blur of a disc, circle and fall-off, wedge and curvature.

Pictures come as arrays of linear light; where they come from is somebody else's work.
"""
