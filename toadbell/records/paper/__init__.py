"""The record as paper: type, charts, the vessel's drawing, and the report they make up."""
