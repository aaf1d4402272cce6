"""The whole nonlinear wall against a general PDE package: same law, other code, other scheme."""

import numpy as np
import pytest
from fipy import (
    CellVariable,
    DiffusionTerm,
    FaceVariable,
    Grid1D,
    ImplicitSourceTerm,
    LinearLUSolver,
    TransientTerm,
)

from kilncore.drying.diffusion import (
    AirSurface,
    Columns,
    cell_fractions,
    diffusivity_of_wood,
    saturation_vapour_kg_m3,
    step_columns,
    time_steps,
)
from kilncore.wood.emc import Isotherm

GB, AIR_C, RH, RESISTANCE, HALF_MM, GREEN, TARGET = 0.55, 18.0, 0.55, 2000.0, 12.5, 0.70, 0.12


def our_ready_days():
    """Day on which the mean falls to the target, by the engine's own twelve cells."""
    one = np.ones(1)
    law = diffusivity_of_wood(GB, air_c=AIR_C, k=one, chi=one, tail=np.zeros(1))
    columns = Columns(one * HALF_MM / 1000, one * GB * 1000, law, np.full((12, 1), GREEN), cell_fractions())
    surface = AirSurface(columns, air_c=AIR_C, rh=one * RH, resistance_s_m=one * RESISTANCE)
    before, at = GREEN, 0.0
    for when in time_steps(0.0, 200.0):
        step_columns(columns, surface, when - at)
        now = float(columns.mean()[0])
        if now <= TARGET:
            return at + (before - TARGET) / (before - now) * (when - at)
        before, at = now, when
    raise AssertionError("never ready")


def fipy_ready_days(longest_days, cells=40):
    """The same by FiPy: even fine cells, backward Euler in small steps, sweeps until it stands."""
    iso = Isotherm(AIR_C)
    humid = np.linspace(0.0, 1.0, 4001)
    moist = iso.moisture(humid)
    law = diffusivity_of_wood(GB, air_c=AIR_C, k=np.ones(1), chi=np.ones(1), tail=np.zeros(1))
    a, b = float(law.a[0]), float(law.b[0])
    dx = HALF_MM / 1000 / cells
    mesh = Grid1D(nx=cells, dx=dx)
    u = CellVariable(mesh=mesh, value=GREEN, hasOld=True)
    d = FaceVariable(mesh=mesh, value=0.0)
    pull = CellVariable(mesh=mesh, value=0.0)  # loss of the last cell per second and per moisture above rest
    rest = float(iso.moisture(RH))
    vapour = float(saturation_vapour_kg_m3(AIR_C))
    equation = TransientTerm() == DiffusionTerm(coeff=d) - ImplicitSourceTerm(coeff=pull) + pull * rest
    day = 86400.0

    def face_flux(inside):
        """kg/m2/s through half a cell of wood and the resistance, by bisection on the face."""
        low, high = rest, inside
        for _ in range(60):
            face = 0.5 * (low + high)
            activity = np.interp(face, moist, humid) if face < moist[-1] else 1.0
            out = vapour * (activity - RH) / RESISTANCE
            mid = a * np.exp(b * min(0.5 * (face + inside), 0.30))
            through = GB * 1000 * mid * (inside - face) / (dx / 2)
            low, high = (face, high) if through > out else (low, face)
        return out

    solver = LinearLUSolver()
    t, before, step = 0.0, GREEN, 0.01 * longest_days
    while t < 200.0:
        u.updateOld()
        for _ in range(3):
            values = np.minimum(np.asarray(u.faceValue), 0.30)
            d.setValue(a * np.exp(b * values))
            skin = max(float(u.value[-1]), rest + 1e-6)
            rate = np.zeros(cells)
            rate[-1] = face_flux(skin) / (GB * 1000 * dx) / (skin - rest)
            pull.setValue(rate)
            equation.sweep(u, dt=step * day, solver=solver)
        t, now = t + step, float(u.value.mean())
        if now <= TARGET:
            return t - step + (before - TARGET) / (before - now) * step
        before, step = now, min(step * (1.0 + 0.16 * longest_days), longest_days)
    raise AssertionError("never ready")


def test_ready_date_agrees_with_a_general_pde_package():
    """FiPy (finite volumes, another mesh and scheme): the ready date within half a percent.

    Its steps are first order, so two lengths of them are carried on to none (Richardson).
    """
    coarse, fine = fipy_ready_days(1.0), fipy_ready_days(0.5)
    assert our_ready_days() == pytest.approx(2.0 * fine - coarse, rel=0.005)
