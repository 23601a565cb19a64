"""The API describes itself: each shape by a name of its own, each operation with how it refuses."""

import pytest
from ninja import NinjaAPI, Schema

from toadbell.site.api import api
from toadbell.site.described import Described, named_twice, shapes_of


def test_every_shape_over_the_wire_has_a_name_of_its_own() -> None:
    assert len(shapes_of(api)) > 100
    assert named_twice(api) == []


def test_two_shapes_of_one_name_are_no_description() -> None:
    other = Described(title="other")

    def named(module: str) -> type[Schema]:
        return type("Row", (Schema,), {"__module__": module, "__doc__": "A row.", "__annotations__": {"id": str}})

    first, second = named("toadbell.one"), named("toadbell.two")

    @other.get("/a", response=first)
    def one(request: object) -> None:
        """One."""

    @other.get("/b", response=list[second])  # type: ignore[valid-type]
    def two(request: object) -> None:
        """Two."""

    assert named_twice(other) == ["Row of toadbell.one and toadbell.two"] or named_twice(other) == [
        "Row of toadbell.two and toadbell.one"
    ]
    with pytest.raises(ValueError, match="two shapes share a name"):
        other.get_openapi_schema()


def test_every_operation_says_how_it_refuses() -> None:
    assert isinstance(api, NinjaAPI)
    for path, operations in api.get_openapi_schema()["paths"].items():
        for method, operation in operations.items():
            assert operation["responses"]["4XX"]["content"]["application/json"]["schema"]["$ref"].endswith(
                "/Problem"
            ), (method, path)
