"""Volumes and areas against closed forms and an independent quadrature."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from kilncore.errors import Impossible
from kilncore.solids.revolve import FAMILIES, outline, silhouettes, solid_of_revolution, vessel


def test_cylinder_cone_and_sphere_have_their_closed_forms():
    volume, area = solid_of_revolution(((50, 0), (50, 80)))
    assert volume == pytest.approx(math.pi * 50**2 * 80 / 1000) and area == pytest.approx(
        2 * math.pi * 50 * 80 / 100
    )
    volume, area = solid_of_revolution(((0, 0), (30, 40)))
    assert volume == pytest.approx(math.pi * 30**2 * 40 / 3000) and area == pytest.approx(
        math.pi * 30 * 50 / 100
    )
    arc = tuple(
        (60 * math.cos(a), 60 * math.sin(a)) for a in [math.pi / 2 * (i / 400 - 1) for i in range(801)]
    )
    volume, area = solid_of_revolution(arc)
    assert volume == pytest.approx(4 / 3 * math.pi * 60**3 / 1000, rel=1e-4)
    assert area == pytest.approx(4 * math.pi * 60**2 / 100, rel=1e-4)


@pytest.mark.parametrize("family", FAMILIES)
def test_outline_volume_agrees_with_quadrature(family):
    path = outline(family, diameter_mm=260, height_mm=100, foot_diameter_mm=100, points=401)
    shape = FAMILIES[family]
    peak = max(shape(i / 64) for i in range(65))
    exact, _ = quad(lambda z: math.pi * max(shape(z / 100) / peak * 130, 50) ** 2, 0, 100, limit=200)
    assert solid_of_revolution(path)[0] == pytest.approx(exact / 1000, rel=2e-3)


sizes = st.tuples(st.floats(80, 400), st.floats(0.25, 1.2), st.floats(0.03, 0.12))


@given(st.sampled_from(sorted(FAMILIES)), sizes, st.floats(0.5, 3))
def test_scaling_every_length_scales_volume_by_its_cube(family, size, factor):
    diameter, tall, thin = size

    def make(s):
        return vessel(family, diameter_mm=s * diameter, height_mm=s * diameter * tall, wall_mm=s * diameter * thin,
                      bottom_mm=s * diameter * tall * 0.2)  # fmt: skip

    one, other = make(1.0), make(factor)
    assert other.wood_cm3 == pytest.approx(one.wood_cm3 * factor**3, rel=1e-6)
    assert other.inside_cm2 == pytest.approx(one.inside_cm2 * factor**2, rel=1e-6)


@given(st.sampled_from(sorted(FAMILIES)), sizes)
def test_a_vessel_has_wood_and_hollow_and_more_wall_means_more_wood(family, size):
    diameter, tall, thin = size
    common = {"diameter_mm": diameter, "height_mm": diameter * tall, "bottom_mm": diameter * tall * 0.2}
    one = vessel(family, wall_mm=diameter * thin, **common)
    thicker = vessel(family, wall_mm=diameter * thin * 1.3, **common)
    assert 0 < one.cavity_cm3 < one.outer_cm3
    assert thicker.wood_cm3 > one.wood_cm3


def test_wall_is_measured_square_to_the_curve():
    made = vessel("hemisphere", diameter_mm=300, height_mm=150, wall_mm=10, bottom_mm=12)
    inside = [p for p in made.inner if 40 < p[1] < 130]
    for r, z in inside:
        nearest = min(
            math.dist((r, z), p)
            for p in outline("hemisphere", diameter_mm=300, height_mm=150, foot_diameter_mm=120, points=2000)
        )
        assert nearest == pytest.approx(10, abs=0.1)


@pytest.mark.parametrize(
    ("change", "field"), [({"wall_mm": 150.0}, "wall_mm"), ({"bottom_mm": 120.0}, "bottom_mm")]
)
def test_a_wall_or_bottom_that_fills_the_bowl_names_its_field(change, field):
    sizes = {"diameter_mm": 280.0, "height_mm": 110.0, "wall_mm": 10.0, "bottom_mm": 12.0, **change}
    with pytest.raises(Impossible) as caught:
        vessel("hemisphere", **sizes)
    assert caught.value.field == field


def test_silhouettes_are_shares_of_size():
    for family, path in silhouettes().items():
        assert family in FAMILIES
        assert max(r for r, _ in path) == pytest.approx(1, abs=0.02) and (path[0][1], path[-1][1]) == (0, 1)
