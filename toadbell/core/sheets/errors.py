"""How a wrong sheet is refused: the field, what was given, and what would be accepted."""


class SheetError(ValueError):
    """A sheet cannot be used; the message names the field, what was given and what would be accepted."""

    def __init__(self, says: str, field: str | None = None):
        super().__init__(says if field is None else f"{field}: {says}")
        self.says, self.field = says, field
