"""The set-up card's page: kept, copied, compared, and told when two builds want different versions."""

import pytest
from django.urls import reverse

from tests.reading import base, setup_card
from workshop.builds.models import Build, SetupDocument
from workshop.builds.services import start_build

TYPED = {
    "tools[0].name": "build tool", "tools[0].version": "3.2.1", "tools[0].kept_in": "home", "options[0].name": "speed",
    "options[0].value": "fast", "memory[0].name": "app", "memory[0].kind": "program", "memory[0].size_bytes": "300000",
    "edits[0].library": "build tool", "edits[0].version": "3.2.1", "edits[0].line": "7", "trials[0].day": "2026-05-31",
    "trials[0].worked": "no", "trials[0].words": "black glass", "loading": "hold BOOT,\npress RST",
}  # fmt: skip


@pytest.fixture
def other(maker):
    return start_build(owner=maker, name="Other board", panel="mono-oled-128x64", board="small", link_kind="i2c")


def post(client, build, **changes):
    build.refresh_from_db()
    return client.post(reverse("setup-card", args=[build.pk]), {"base": base(build, SetupDocument), **changes}, follow=True)


def text_of(response) -> str:
    return response.content.decode()


def test_a_card_is_kept_and_grows(signed_in, build):
    page = text_of(post(signed_in, build, **TYPED))
    kept = Build.objects.get(pk=build.pk).to_device().setup_card
    assert (kept.tools[0].version, kept.memory[0].size_bytes, kept.trials[0].worked) == ("3.2.1", 300_000, False)
    assert kept.loading == "hold BOOT,\npress RST\n"
    assert 'name="tools[2].name"' in page  # two more places than there are entries
    assert "219.0 KiB free" in page  # 524,288 - 300,000
    card = text_of(signed_in.get(reverse("wiring-card", args=[build.pk])))
    assert "build tool 3.2.1, kept: home" in card
    assert "2026-05-31: did not work, black glass" in card
    post(signed_in, build, **{"tools[0].name": ""})
    assert not Build.objects.get(pk=build.pk).to_device().setup_card.tools


def test_sizes_are_typed_with_their_unit(signed_in, build):
    page = text_of(post(signed_in, build, **{"memory[0].name": "app", "memory[0].size_bytes": "1.5 MB"}))
    assert setup_card(Build.objects.get()).memory[0].size_bytes == 1_500_000
    assert 'value="1500000 bytes"' in page
    post(signed_in, build, **{"memory[0].name": "app", "memory[0].size_bytes": "1,5 MiB"})
    assert setup_card(Build.objects.get()).memory[0].size_bytes == 1_572_864


@pytest.mark.parametrize(
    ("changes", "message"),
    [
        ({"trials[0].day": "yesterday"}, "a day such as 2026-05-31"),
        ({"memory[0].name": "app", "memory[0].size_bytes": "much"}, "write 1572864, 1.5 MB"),
        ({"base": 1}, "in another tab"),
    ],
)
def test_wrong_input_is_told_and_kept(signed_in, build, changes, message):
    page = text_of(post(signed_in, build, **{"tools[0].name": "build tool", **changes}))
    assert message in page
    assert 'value="build tool"' in page
    assert setup_card(Build.objects.get()) is None


def test_findings_count_at_station_one(signed_in, build):
    page = post(signed_in, build, **{**TYPED, "memory[0].size_bytes": "600000"})
    assert [f["id"] for f in page.context["findings"]] == ["setup-card.parts-too-large"]
    assert signed_in.get(reverse("build-panel", args=[build.pk])).context["stones"][0].words == "here, 1 must fix"


def test_copied_compared_and_clashing(signed_in, build, other):
    post(signed_in, build, **TYPED)
    signed_in.post(reverse("copy-setup-card", args=[other.pk]), {"other": build.pk})
    copied = Build.objects.get(pk=other.pk).to_device().setup_card
    assert copied.tools[0].version == "3.2.1"
    assert not copied.trials
    same = signed_in.get(reverse("setup-card", args=[other.pk]), {"with": build.pk})
    assert "The two say the same" in text_of(same)
    page = post(signed_in, other, **{"tools[0].version": "4.0"})
    assert [(c.other, c.wanted, c.other_wants) for c in page.context["clashes"]] == [("Tide board", "4.0", "3.2.1")]
    compared = signed_in.get(reverse("setup-card", args=[other.pk]), {"with": build.pk}).context["differences"]
    assert compared == [("tools.build tool", "4.0 in home", "3.2.1 in home")]


def test_only_ones_own_cards_can_be_copied(signed_in, build, other):
    for wanted in ("", "x", "999999", str(other.pk)):
        assert signed_in.post(reverse("copy-setup-card", args=[build.pk]), {"other": wanted}).status_code == 422
    assert setup_card(Build.objects.get(pk=build.pk)) is None
