"""How the API describes itself: every name once, and what an error looks like on each operation."""

from collections.abc import Iterator
from typing import Any, get_args

from ninja import NinjaAPI, Schema
from ninja.openapi.schema import OpenAPISchema
from pydantic import BaseModel


class Problem(Schema):
    """What was wrong, in a sentence that says what would do, and the field it is about."""

    says: str
    field: str | None


REFUSED = {
    "4XX": "Refused, and nothing was changed: what is wrong with it, who may not, or what stands in its way now.",
    "5XX": "Not done: the disk is full or cannot be written to, or something that nobody foresaw.",
}


class Described(NinjaAPI):
    """The API with its errors declared; no two shapes share a name, or the description is refused."""

    def get_openapi_schema(self, *args: Any, **options: Any) -> OpenAPISchema:
        """The description, made once; raises ValueError where two shapes share a name: a client would take one for the
        other.
        """
        if self._made is None:
            self._made = self._describe(*args, **options)
        return self._made

    _made: OpenAPISchema | None = None

    def _describe(self, *args: Any, **options: Any) -> OpenAPISchema:
        twice = named_twice(self)
        if twice:
            raise ValueError(f"two shapes share a name, so a client would take one for the other: {'; '.join(twice)}")
        schema = super().get_openapi_schema(*args, **options)
        schema["components"]["schemas"]["Problem"] = Problem.model_json_schema()
        content = {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
        for operations in schema["paths"].values():
            for operation in operations.values():
                for status, says in REFUSED.items():
                    operation["responses"].setdefault(status, {"description": says, "content": content})
        return schema


def named_twice(api: NinjaAPI) -> list[str]:
    """Names that two different shapes of an API have, with the modules of both."""
    known: dict[str, type[BaseModel]] = {}
    twice = []
    for shape in shapes_of(api):
        other = known.setdefault(shape.__name__, shape)
        if other is not shape:
            twice.append(f"{shape.__name__} of {other.__module__} and {shape.__module__}")
    return sorted(set(twice))


def shapes_of(api: NinjaAPI) -> set[type[BaseModel]]:
    """Every shape that goes over the wire, with those it is made of."""
    found: set[type[BaseModel]] = set()
    for _, router in api._routers:
        for view in router.path_operations.values():
            for operation in view.operations:
                for shape in (*operation.models, *operation.response_models.values()):
                    for part in _within(shape, found):
                        found.add(part)
    return {shape for shape in found if shape.__module__.startswith("toadbell")}


def _within(annotation: Any, seen: set[type[BaseModel]]) -> Iterator[type[BaseModel]]:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        if annotation in seen:
            return
        seen.add(annotation)
        yield annotation
        for field in annotation.model_fields.values():
            yield from _within(field.annotation, seen)
    for part in get_args(annotation):
        yield from _within(part, seen)
