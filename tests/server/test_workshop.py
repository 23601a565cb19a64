"""What is said once of the workshop itself: how high it stands, and every plan that is made there."""

import pytest

from tests.server.conftest import Workshop
from toadbell.trials.models import Trial


def test_how_high_it_stands_is_asked_once_and_stands_in_every_plan(workshop: Workshop) -> None:
    assert workshop.get("/workshop") == {"altitude": None}
    tank = workshop.vessel("Yard tank")
    before = workshop.planned(tank)
    assert workshop.put("/workshop", {"altitude": "2240 m"}) == {"altitude": "2240 m"}
    open_ = workshop.post(f"/vessels/{tank['id']}/trials")
    frozen = Trial.objects.get(pk=workshop.post(f"/trials/{before['id']}/freeze")["id"])
    assert frozen.frozen_sheet["altitude"] == "2240 m"  # what was not frozen yet reckons with it too
    assert Trial.objects.get(pk=open_["id"]).derived().test_pressure > 0
    assert workshop.put("/workshop", {"altitude": None}) == {"altitude": None}
    assert Trial.objects.get(pk=frozen.pk).frozen_sheet["altitude"] == "2240 m"


@pytest.mark.parametrize(("written", "says"), [("9 km", "obody works"), ("high up", "no number"), ("2240", "unit")])
def test_a_height_that_cannot_be_is_refused_and_the_one_before_stays(
    workshop: Workshop, written: str, says: str
) -> None:
    workshop.put("/workshop", {"altitude": "120 m"})
    assert says in workshop.put("/workshop", {"altitude": written}, 422)["says"]
    assert workshop.get("/workshop") == {"altitude": "120 m"}
