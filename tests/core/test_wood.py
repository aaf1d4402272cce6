"""Wood and water against the handbook, and against themselves."""

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kilncore.errors import Impossible, OutOfRange, Unknown
from kilncore.sources import all_sources
from kilncore.units import GRAMS_PER_OUNCE, GRAMS_PER_POUND, MM_PER_INCH, inches_from_mm
from kilncore.wood.emc import emc_pct, rh_pct_from_emc
from kilncore.wood.moisture import (
    density_kg_m3,
    mass_g_at,
    mc_pct_from_mass,
    oven_dry_mass_g,
    shrinkage_pct,
)
from kilncore.wood.species import all_species, species
from tests.support import reference


@pytest.mark.parametrize(
    "row", reference("emc.csv"), ids=lambda r: f"handbook-4-2-{r['air_c']}C-{r['rh_pct']}"
)
def test_emc_matches_the_printed_table(row):
    found = emc_pct(float(row["air_c"]), rh_pct=float(row["rh_pct"]))
    assert found == pytest.approx(float(row["emc_pct"]), abs=0.06)


@given(st.floats(-10, 90), st.floats(2, 98))
def test_humidity_and_moisture_are_each_others_inverse(air, rh):
    assert rh_pct_from_emc(air, wanted_pct=emc_pct(air, rh_pct=rh)) == pytest.approx(rh, abs=1e-6)


@given(st.floats(-10, 90), st.floats(1, 98), st.floats(0.1, 1.9))
def test_damper_air_holds_more_water(air, rh, more):
    assert emc_pct(air, rh_pct=rh + more) > emc_pct(air, rh_pct=rh)


@pytest.mark.parametrize(("air", "rh", "name"), [(20, 130, "rh_pct"), (20, -1, "rh_pct"), (300, 50, "air_c")])
def test_air_that_cannot_be_names_its_field_and_limits(air, rh, name):
    with pytest.raises(OutOfRange) as caught:
        emc_pct(air, rh_pct=rh)
    assert caught.value.field == name
    assert f"{air if name == 'air_c' else rh} {'°C' if name == 'air_c' else '%'} came" in caught.value.message


def test_no_air_holds_wood_at_a_moisture_beyond_saturation():
    with pytest.raises(OutOfRange, match="No air"):
        rh_pct_from_emc(20.0, wanted_pct=60.0)


@pytest.mark.parametrize("row", reference("gravity_at_12.csv"), ids=lambda r: f"handbook-5-3-{r['species']}")
def test_gravity_at_twelve_percent_follows_from_the_green_one(row):
    density = density_kg_m3(float(row["gb"]), mc_pct=12.0)
    assert density / 1000 / 1.12 == pytest.approx(float(row["g12"]), abs=0.02)


def test_density_above_saturation_is_gravity_and_water():
    # Handbook ch. 4: no swelling above 30 %, so 0.50 at 60 % is 500 x 1.6.
    assert density_kg_m3(0.5, mc_pct=60.0) == pytest.approx(800.0)


def test_shrinkage_is_a_straight_line_from_saturation_to_dry():
    # Handbook ch. 4 eq. 4-7; 8 % total at 12 % moisture is 8 x 18 / 30.
    assert shrinkage_pct(8.0, mc_pct=12.0) == pytest.approx(4.8)
    assert shrinkage_pct(8.0, mc_pct=0.0) == pytest.approx(8.0)
    assert shrinkage_pct(8.0, mc_pct=30.0) == shrinkage_pct(8.0, mc_pct=90.0) == 0.0


@given(st.floats(0, 300), st.floats(1, 50_000))
def test_mass_and_moisture_round_trip(mc, dry):
    assert mc_pct_from_mass(mass_g_at(mc, dry_mass_g=dry), dry_mass_g=dry) == pytest.approx(mc, abs=1e-6)


@given(st.floats(10, 20_000), st.floats(0.1, 1.0), st.floats(0, 200))
def test_volume_gravity_and_density_tell_one_story(volume, gb, mc):
    """Mass from oven-dry mass equals density times the volume shrunk by the same relation."""
    dry = oven_dry_mass_g(volume, gb=gb)
    swollen = volume * (1 - 0.265 * max(30 - mc, 0) / 30 * gb)
    assert mass_g_at(mc, dry_mass_g=dry) == pytest.approx(density_kg_m3(gb, mc_pct=mc) * swollen / 1000)


def test_lighter_than_dry_wood_is_refused_with_both_weights():
    with pytest.raises(Impossible) as caught:
        mc_pct_from_mass(900.0, dry_mass_g=1000.0)
    assert "900 g" in caught.value.message and "1000 g" in caught.value.message


def test_species_table_is_large_sourced_and_honest():
    table = all_species()
    assert len(table) >= 45
    assert all(s.source in all_sources() for s in table.values())
    unknown = species("unknown-hardwood")
    assert unknown.gb.from_class and unknown.gb.high - unknown.gb.low > 0.2
    assert species("ash-white").gb.typical == 0.55 and not species("ash-white").gb.from_class
    assert species("ash-european").green_mc_pct.from_class and species("ash-european").has_gaps


def test_every_yard_species_has_its_figures():
    for key in (
        "walnut-european",
        "ash-european",
        "plane-london",
        "beech-european",
        "hornbeam",
        "pear",
        "elm-wych",
        "chestnut-sweet",
    ):
        wood = species(key)
        assert 0.3 < wood.gb.typical < 0.8 and not wood.gb.from_class
        assert wood.shrink_tangential_pct.typical > wood.shrink_radial_pct.typical


def test_an_unknown_species_key_lists_what_is_known():
    with pytest.raises(Unknown, match="ash-white"):
        species("mithril")


def test_factors_agree_with_pint():
    ureg = pint.UnitRegistry()
    assert ureg("1 inch").to("mm").magnitude == pytest.approx(MM_PER_INCH, rel=1e-12)
    assert ureg("1 oz").to("g").magnitude == pytest.approx(GRAMS_PER_OUNCE, rel=1e-9)
    assert ureg("1 lb").to("g").magnitude == pytest.approx(GRAMS_PER_POUND, rel=1e-9)
    assert inches_from_mm(285.75) == pytest.approx(11.25)
