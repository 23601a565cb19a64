"""The rules and the computation: SI floats in, SI floats out, no interface code.

All pressures are gauge unless a name says absolute.
"""
