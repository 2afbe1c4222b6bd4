"""The compiled time loop: fully implicit finite volumes, block-tridiagonal Newton, adaptive steps.

Unknowns at every node: z = asinh(p_suc / 1 kPa) and T. Nodes are cell centres *and* faces: a face is
a node without volume, shared by two materials or standing alone at a film or a membrane, so that vapour
and liquid both bring water to it, the interface suction is found by the same Newton iteration, and a
result at a face needs no reconstruction. Water on a face over saturation is kept as a film.

Balances per node over a step (EN 15026, enthalpy form):
    Δ(w V + film) = dt (Σ g + S_w V),   Δ(H V) = dt (Σ q + Σ h_v g_v + h_l g_l + S_h V).
What Newton leaves of a step's residual is carried into the next, so the closure error never adds up.

Ice: below 0 °C the water whose suction lies under that of ice in equilibrium (Clausius-Clapeyron, generalised) is
frozen. It gives off its latent heat and closes the pores to liquid; its own expansion and its lower specific heat
are left out. Ports set water free at a node, or let air of a given state exchange with it: cavities, leaks of room
air, rain that gets in. A flow of air through the whole build-up carries heat and vapour across every edge.

One file on purpose: Numba's compile cache follows changes in the file of a compiled function only. Any part in a file
of its own would leave an old kernel in use after it changes, and a wrong number is the worst fault here. Within it,
`advance` is the loop over time; state, fluxes, drainage, the linear solve and the step of Newton are functions.
"""

from __future__ import annotations

import numpy as np
from numba import njit

# `nnan` and `ninf` are left out: they would let the compiler remove the checks for broken states.
FAST = {"nsz", "arcp", "contract", "afn", "reassoc"}

Z0, Z_END, Z_STEP_INVERSE = -8.0, 15.0, 100.0
T0_TABLE, T_STEP_INVERSE, T_COUNT = 213.15, 16.0, 2560
PHI_COUNT = 500
ZERO = 273.15
PA = 1000.0
FILM_STORAGE = 1.0e-4  # kg/(m² Pa): condensate held on a face per Pa of over-saturation
RUN_OFF = 1.0e-3  # kg/(m² s Pa): how fast water in excess leaves a rained face
# Water beyond what a cell (10 kg/m³ over saturation) or a face (0.5 kg/m²) holds drains away and is counted.
DRAIN_CELL_PA, DRAIN_CELL = 1.0e5, 1.0e-6  # Pa; kg/(m³ s Pa)
DRAIN_FACE_PA, DRAIN_FACE = 5.0e3, 1.0e-3  # Pa; kg/(m² s Pa)
MAX_ITERATIONS = 24  # a step from saturation over a flat retention is clipped, and takes two dozen to come back
MOST_TRIES = 2000  # steps, taken and refused, within one boundary step: beyond it a run only crawls
BUDGET = 20000  # iterations in one call, about half a second: then the caller is asked whether to go on
FILM_ROUND = 50.0  # Pa: how far the corner is rounded where a film on a face begins

CARRY_S = 60.0  # s: over which a step's remainder is carried into the next ones
LEAST_ALLOWED = 1e-2  # share of the tolerance that the shortest steps may leave; MOST_TRIES of them leave 20 tolerances
AIR_HEAT = 1006.0  # J/(kg K)
FREEZING_SUCTION = 1.2209e6  # Pa/K: ρ_w L_f / T0, suction of water in equilibrium with ice for each K below 0 °C
FREEZING_ROUND = 5.0e3  # Pa: how far the corner where ice begins is rounded
BLOCKING = 3  # power of the unfrozen share with which ice closes the pores to liquid; an estimate

OK, FAILED, PAUSED = 0, 1, 2


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _cubic(row, offset, t):
    a, b, c, d = row[offset], row[offset + 1], row[offset + 2], row[offset + 3]
    return a + t * (b + t * (c + t * d)), b + t * (2.0 * c + 3.0 * t * d)


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _film(p):
    """Free water on a face [kg/m²] at a suction [Pa], and its slope: ½ (√(p² + p₀²) − p) in place of max(−p, 0).

    With the corner at p = 0 a film that runs dry made two answers of one step, and Newton went from one to the other.
    """
    root = np.sqrt(p * p + FILM_ROUND * FILM_ROUND)
    # over zero the same without the difference of two large numbers
    held = 0.5 * FILM_ROUND * FILM_ROUND / (root + p) if p > 0.0 else 0.5 * (root - p)
    return FILM_STORAGE * held, -FILM_STORAGE * held / root


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _properties(z, T, m, by_z, by_phi, by_t, scalars, air, rho_rv, out):
    """Fill `out` with the state of material m at (z, T); derivatives by z and T.

    out: 0 w, 1 w_z, 2 w_T, 3 Θ, 4 Θ_z, 5 δ, 6 δ_z, 7 δ_T, 8 λ, 9 λ_z, 10 λ_T, 11 φ, 12 φ_z, 13 φ_T,
         14 p_v, 15 p_v_z, 16 p_v_T, 17 δ_air
    """
    e = np.exp(z)
    ei = 1.0 / e
    p = 0.5 * PA * (e - ei)
    p_z = 0.5 * PA * (e + ei)
    x = (z - Z0) * Z_STEP_INVERSE
    i = min(max(int(x), 0), by_z.shape[1] - 1)
    t = x - i
    row = by_z[m, i]
    theta, theta_z = _cubic(row, 4, t)
    factor, factor_z = _cubic(row, 8, t)
    lam, lam_z = _cubic(row, 12, t)
    if scalars[m, 1] > 0.0:  # w of RH is held: read w at the suction the same RH has at the reference T
        ratio = scalars[m, 3] / T
        pe = p * ratio
        u = pe / PA
        root = np.sqrt(u * u + 1.0)
        ze = np.log(u + root) if u > 0.0 else -np.log(-u + root)
        xe = (ze - Z0) * Z_STEP_INVERSE
        ie = min(max(int(xe), 0), by_z.shape[1] - 1)
        w, w_e = _cubic(by_z[m, ie], 0, xe - ie)
        w_e *= Z_STEP_INVERSE / (PA * root)
        out[0] = w
        out[1] = w_e * p_z * ratio
        out[2] = -w_e * pe / T
    else:
        w, w_z = _cubic(row, 0, t)
        out[0] = w
        out[1] = w_z * Z_STEP_INVERSE
        out[2] = 0.0
    out[3] = theta
    out[4] = theta_z * Z_STEP_INVERSE
    xt = (T - T0_TABLE) * T_STEP_INVERSE
    it = min(max(int(xt), 0), T_COUNT - 1)
    tt = xt - it
    ps, ps_t = _cubic(air[it], 0, tt)
    ps_t *= T_STEP_INVERSE
    da, da_t = _cubic(air[it], 4, tt)
    kelvin = scalars[m, 4]
    if kelvin > 0.0:
        phi = np.exp(-p / (rho_rv * kelvin))
        phi_z = -phi * p_z / (rho_rv * kelvin)
        phi_t = 0.0
    else:
        a = p / (rho_rv * T)
        phi = np.exp(-a)
        phi_z = -phi * p_z / (rho_rv * T)
        phi_t = phi * a / T
    rt = by_t[m, it]
    dry, dry_t = _cubic(rt, 0, tt)
    dry_t *= T_STEP_INVERSE
    heat, heat_t = _cubic(rt, 4, tt)
    heat_t *= T_STEP_INVERSE
    factor_z *= Z_STEP_INVERSE
    factor_t = 0.0
    if scalars[m, 2] > 0.0:
        xp = min(phi, 1.0) * PHI_COUNT
        ip = min(int(xp), PHI_COUNT - 1)
        factor, slope = _cubic(by_phi[m, ip], 0, xp - ip)
        slope *= PHI_COUNT
        if phi >= 1.0:
            slope = 0.0
        factor_z = slope * phi_z
        factor_t = slope * phi_t
    out[5] = dry * factor
    out[6] = dry * factor_z
    out[7] = dry_t * factor + dry * factor_t
    out[8] = lam * heat
    out[9] = lam_z * Z_STEP_INVERSE * heat
    out[10] = lam * heat_t
    out[11] = phi
    out[12] = phi_z
    out[13] = phi_t
    out[14] = phi * ps
    out[15] = phi_z * ps
    out[16] = phi_t * ps + phi * ps_t
    out[17] = da


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _frozen(z, T, m, by_z, scalars, out):
    """Ice [kg/m³] of material m at (z, T) and how open the pores are left to liquid (0 to 1), with derivatives.

    out: 18 ice, 19 ice_z, 20 ice_T, 21 openness, 22 openness_z, 23 openness_T; needs 0 to 2 to be filled.
    """
    e = np.exp(z)
    ei = 1.0 / e
    p = 0.5 * PA * (e - ei)
    d = p - FREEZING_SUCTION * (ZERO - T)
    if d >= FREEZING_ROUND:
        for k in range(18, 24):
            out[k] = 0.0
        out[21] = 1.0
        return
    if d > -FREEZING_ROUND:
        pl = p + (FREEZING_ROUND - d) ** 2 / (4.0 * FREEZING_ROUND)
        by_d = -(FREEZING_ROUND - d) / (2.0 * FREEZING_ROUND)
    else:
        pl = p - d
        by_d = -1.0
    pl_z = (1.0 + by_d) * 0.5 * PA * (e + ei)
    pl_t = by_d * FREEZING_SUCTION
    ratio = 1.0
    if scalars[m, 1] > 0.0:
        ratio = scalars[m, 3] / T
    u = pl * ratio / PA
    root = np.sqrt(u * u + 1.0)
    zl = np.log(u + root) if u > 0.0 else -np.log(-u + root)
    x = (zl - Z0) * Z_STEP_INVERSE
    i = min(max(int(x), 0), by_z.shape[1] - 1)
    wl, slope = _cubic(by_z[m, i], 0, x - i)
    by_p = slope * Z_STEP_INVERSE / (PA * root) * ratio
    wl_z = by_p * pl_z
    wl_t = by_p * pl_t
    if scalars[m, 1] > 0.0:
        wl_t -= by_p * pl / T
    w = out[0]
    out[18] = w - wl
    out[19] = out[1] - wl_z
    out[20] = out[2] - wl_t
    if w > 1e-12:
        s = min(wl / w, 1.0)
        out[21] = s**BLOCKING
        if wl < w:
            out[22] = BLOCKING * s ** (BLOCKING - 1) * (wl_z - s * out[1]) / w
            out[23] = BLOCKING * s ** (BLOCKING - 1) * (wl_t - s * out[2]) / w
        else:
            out[22] = 0.0
            out[23] = 0.0
    else:
        out[21] = 1.0
        out[22] = 0.0
        out[23] = 0.0


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _upstream(peclet):
    """Weight of the upstream value that makes steady flow with conduction exact (exponential scheme, Patankar 1980)."""
    if abs(peclet) < 1e-3:
        return 0.5 + peclet / 12.0
    if peclet > 30.0:
        return 1.0 - 1.0 / peclet
    if peclet < -30.0:
        return -1.0 / peclet
    return 1.0 / (1.0 - np.exp(-peclet)) - 1.0 / peclet


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _between_nodes(A, B, length, v_i, v_j, t_i, t_j, freezes):
    """Fluxes inside a material from a node with state A to the next one with state B.

    Vapour gv, liquid gl and heat q, each with its derivatives by z and T of both nodes; then the conductances of vapour
    and heat, which the draught's upstream weight asks for.
    """
    inv = 1.0 / length
    d = 0.5 * (A[5] + B[5]) * inv
    drop = A[14] - B[14]
    gv = d * drop
    gv_zi = 0.5 * A[6] * inv * drop + d * A[15]
    gv_ti = 0.5 * A[7] * inv * drop + d * A[16]
    gv_zj = 0.5 * B[6] * inv * drop - d * B[15]
    gv_tj = 0.5 * B[7] * inv * drop - d * B[16]
    gl = (A[3] - B[3]) * inv
    gl_zi = A[4] * inv
    gl_zj = -B[4] * inv
    gl_ti = 0.0
    gl_tj = 0.0
    # A half cell conducts, and is blocked by ice, as its cell: a face alone has no thickness.
    part_i = 0.0 if v_i == 0.0 else (1.0 if v_j == 0.0 else 0.5)
    part_j = 1.0 - part_i
    if freezes and gl != 0.0:
        open_i, open_iz, open_it = A[21], A[22], A[23]
        open_j, open_jz, open_jt = B[21], B[22], B[23]
        if part_i == 0.0:
            open_i, open_iz, open_it = 1.0, 0.0, 0.0
        elif part_j == 0.0:
            open_j, open_jz, open_jt = 1.0, 0.0, 0.0
        both = open_i * open_j
        gl_ti = gl * open_it * open_j
        gl_tj = gl * open_i * open_jt
        gl_zi = gl_zi * both + gl * open_iz * open_j
        gl_zj = gl_zj * both + gl * open_i * open_jz
        gl *= both
    lam = (part_i * A[8] + part_j * B[8]) * inv
    dT = t_i - t_j
    q = lam * dT
    q_zi = part_i * A[9] * inv * dT
    q_zj = part_j * B[9] * inv * dT
    q_ti = part_i * A[10] * inv * dT + lam
    q_tj = part_j * B[10] * inv * dT - lam
    return gv, gv_zi, gv_ti, gv_zj, gv_tj, gl, gl_zi, gl_ti, gl_zj, gl_tj, q, q_zi, q_ti, q_zj, q_tj, d, lam


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _through_resistance(A, B, z_i, z_j, t_i, t_j, heat, resistance, table, rh_of, liquid, membranes):
    """The same across a membrane, a foil or a contact: sd [m] as given or by RH, heat m²K/W, liquid Pa m² s/kg (0: none)."""
    da = 0.5 * (A[17] + B[17])
    slope_i = 0.0
    slope_j = 0.0
    if table >= 0:
        if rh_of == 0:
            phi = 0.5 * (A[11] + B[11])
        elif rh_of == 1:
            phi = A[11]
        else:
            phi = B[11]
        xp = min(phi, 1.0) * PHI_COUNT
        ip = min(int(xp), PHI_COUNT - 1)
        sd, slope = _cubic(membranes[table, ip], 0, xp - ip)
        slope *= PHI_COUNT
        if phi >= 1.0:
            slope = 0.0
        if rh_of == 0:
            slope_i = 0.5 * slope
            slope_j = 0.5 * slope
        elif rh_of == 1:
            slope_i = slope
        else:
            slope_j = slope
    else:
        sd = resistance
    g = da / sd
    drop = A[14] - B[14]
    gv = g * drop
    gv_zi = g * A[15] - gv / sd * slope_i * A[12]
    gv_ti = g * A[16] - gv / sd * slope_i * A[13]
    gv_zj = -g * B[15] - gv / sd * slope_j * B[12]
    gv_tj = -g * B[16] - gv / sd * slope_j * B[13]
    d = g
    lam = 1.0 / heat
    gl = 0.0
    gl_zi = 0.0
    gl_zj = 0.0
    gl_ti = 0.0
    gl_tj = 0.0
    if liquid > 0.0:
        ei = np.exp(z_i)
        ej = np.exp(z_j)
        gl = 0.5 * PA * ((ej - 1.0 / ej) - (ei - 1.0 / ei)) / liquid
        gl_zi = -0.5 * PA * (ei + 1.0 / ei) / liquid
        gl_zj = 0.5 * PA * (ej + 1.0 / ej) / liquid
    u = 1.0 / heat
    q = u * (t_i - t_j)
    q_zi = 0.0
    q_zj = 0.0
    q_ti = u
    q_tj = -u
    return gv, gv_zi, gv_ti, gv_zj, gv_tj, gl, gl_zi, gl_ti, gl_zj, gl_tj, q, q_zi, q_ti, q_zj, q_tj, d, lam


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _emitted_beyond(emission, air, face):
    """Long-wave [W/m²] that a face gives off beyond 4 ε σ T_air³ (T − T_air), which its film carries; with its slope."""
    d = face - air
    lost = emission * d * d * (6.0 * air * air + 4.0 * air * d + d * d)
    return lost, emission * d * (12.0 * air * air + 12.0 * air * d + 4.0 * d * d)


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _drain_away(z, T, volume, dt, hl1, drain, rhs, diagonal):
    """Water that a cell or a face no longer holds leaves the wall; `drain` [kg/(m² s)] and the balances of the step."""
    for i in range(z.shape[0]):
        drain[i] = 0.0
        if z[i] < -2.0:  # suction below −3.6 kPa
            e = np.exp(z[i])
            over = -0.5 * PA * (e - 1.0 / e)
            rate = DRAIN_CELL * volume[i]
            if volume[i] > 0.0:
                over -= DRAIN_CELL_PA
            else:
                over -= DRAIN_FACE_PA
                rate = DRAIN_FACE
            if over > 0.0:
                drain[i] = rate * over
                by_z_drain = -rate * 0.5 * PA * (e + 1.0 / e)
                rhs[i, 0] += dt * drain[i]
                diagonal[i, 0] += dt * by_z_drain
                rhs[i, 1] += dt * hl1 * drain[i] * (T[i] - ZERO)
                diagonal[i, 2] += dt * hl1 * by_z_drain * (T[i] - ZERO)
                diagonal[i, 3] += dt * hl1 * drain[i]


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _largest(rhs, tolerance_mass, tolerance_energy, allowed):
    """The largest residual in units of its tolerance, and its node; not finite when any residual is broken."""
    worst = 0.0
    worst_at = 0
    for i in range(rhs.shape[0]):
        size = max(abs(rhs[i, 0]) / tolerance_mass, abs(rhs[i, 1]) / tolerance_energy) / allowed
        if not (size <= worst):
            worst = size
            worst_at = i
    return worst, worst_at


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _solve_blocks(lower, diagonal, upper, rhs):
    """Block Thomas on 2 × 2 blocks, in place: afterwards rhs is the solution. False when it is not finite."""
    n = rhs.shape[0]
    for i in range(n):
        if i > 0:
            # diagonal[i] -= lower[i] · upper'[i−1];  rhs[i] -= lower[i] · rhs'[i−1]
            l0, l1, l2, l3 = lower[i, 0], lower[i, 1], lower[i, 2], lower[i, 3]
            u0, u1, u2, u3 = upper[i - 1, 0], upper[i - 1, 1], upper[i - 1, 2], upper[i - 1, 3]
            diagonal[i, 0] -= l0 * u0 + l1 * u2
            diagonal[i, 1] -= l0 * u1 + l1 * u3
            diagonal[i, 2] -= l2 * u0 + l3 * u2
            diagonal[i, 3] -= l2 * u1 + l3 * u3
            r0, r1 = rhs[i - 1, 0], rhs[i - 1, 1]
            rhs[i, 0] -= l0 * r0 + l1 * r1
            rhs[i, 1] -= l2 * r0 + l3 * r1
        a0, a1, a2, a3 = diagonal[i, 0], diagonal[i, 1], diagonal[i, 2], diagonal[i, 3]
        det = a0 * a3 - a1 * a2
        inv = 1.0 / det
        i0, i1, i2, i3 = a3 * inv, -a1 * inv, -a2 * inv, a0 * inv
        u0, u1, u2, u3 = upper[i, 0], upper[i, 1], upper[i, 2], upper[i, 3]
        upper[i, 0] = i0 * u0 + i1 * u2
        upper[i, 1] = i0 * u1 + i1 * u3
        upper[i, 2] = i2 * u0 + i3 * u2
        upper[i, 3] = i2 * u1 + i3 * u3
        r0, r1 = rhs[i, 0], rhs[i, 1]
        rhs[i, 0] = i0 * r0 + i1 * r1
        rhs[i, 1] = i2 * r0 + i3 * r1
    sound = True
    for k in range(n):
        i = n - 1 - k
        if i < n - 1:
            r0, r1 = rhs[i + 1, 0], rhs[i + 1, 1]
            rhs[i, 0] -= upper[i, 0] * r0 + upper[i, 1] * r1
            rhs[i, 1] -= upper[i, 2] * r0 + upper[i, 3] * r1
        if not (np.isfinite(rhs[i, 0]) and np.isfinite(rhs[i, 1])):
            sound = False
            break
    return sound


@njit(cache=True, fastmath=FAST, inline="always", error_model="numpy")
def _shortened_step(z, T, rhs, reach):
    """Newton's step −rhs on z and T, none longer than `reach` in z or 15 K; the node whose T leaves the tables, or −1."""
    left_at = -1
    for i in range(z.shape[0]):
        dz = min(max(-rhs[i, 0], -reach), reach)
        new = z[i] + dz
        # Crossing into over-saturation overshoots from the flat dry side: land just beyond it.
        if z[i] > 0.0 and new < -0.01:
            new = -0.01
        elif z[i] < -0.5 and new > 0.5:
            new = 0.01
        new = min(max(new, Z0 + 1e-6), Z_END - 1e-6)
        # A shortened step in z shortens the step in T: the direction is of both together.
        share = (new - z[i]) / -rhs[i, 0] if abs(rhs[i, 0]) > 0.05 else 1.0
        z[i] = new
        T[i] += min(max(-rhs[i, 1] * share, -15.0), 15.0)
        if not (T[i] > T0_TABLE and T[i] < 373.15):
            left_at = i
            break
    return left_at


@njit(cache=True, fastmath=FAST, nogil=True, error_model="numpy")
def advance(
    # grid
    volume, material_left, material_right, edge_kind, edge_material, edge_length,
    edge_heat, edge_sd, edge_table, edge_rh_of, edge_liquid, node_layer, layer_count,
    # materials, air, constants
    by_z, by_phi, by_t, scalars, membranes, air, rho_rv, c_w, hv0, hv1, hl1, carried, heat_on,
    # boundary: kinds[end, 0 heat | 1 moisture], runoff[end], emission[end]; series[step, end, quantity, start|end]
    kinds, runoff_on, emission, series, sources,
    # air and leaks: ports[step, port, quantity] at port_node; through[step] kg/m²s of air, positive inward
    port_node, ports, through, air_vapour, fusion,
    # time
    step_s, first_step, last_step, largest_step, smallest_step, tolerance_mass, tolerance_energy, control,
    record_every,
    # state, changed in place
    z, T, carry_mass, carry_energy, z_seen,
    # records, filled from index `record_at`
    record_at, rec_z, rec_T, rec_water, rec_flux, rec_port, totals, stats,
):  # fmt: skip
    """Advance the state over boundary steps first_step … last_step − 1.

    series quantities: 0 T_env [K], 1 h [W/m²K], 2 q absorbed or given [W/m²], 3 p_v or surface RH,
    4 β [s/m], 5 vapour flux given, 6 rain [kg/m²s], 7 T of rain [K].
    ports quantities: 0 water [kg/m²s], 1 its T [K], 2 exchange of heat [W/m²K], 3 of vapour [kg/m²s Pa], 4 T of the
    air [K], 5 its p_v [Pa]. fusion: latent heat of ice [J/kg], 0 with freezing off. rec_port: water set free and
    vapour gained by exchange [kg/m²s]; its last row is what drained away (negative).
    rec_flux per record and end: 0 heat by film or given, 1 absorbed radiation, 2 vapour, 3 liquid taken up,
    4 rain offered, 5 run-off; means over the record, positive into the wall.
    totals: 0 water in, 1 energy in, 2 water turnover, 3 energy turnover, 4 water stored, 5 energy stored.
    stats: 0 steps, 1 iterations, 2 refused steps, 3 time of failure, 4 place, 5 residual, 6 T beyond the tables [K] or 0.
    control: 0 wish for the next step [s], 1 the boundary step to go on from.
    returns: OK, FAILED, or PAUSED after much work within a block: at a record, to be called again from control[1].
    """
    n = volume.shape[0]
    left = np.zeros((n, 24))
    right = np.zeros((n, 24))
    left[:, 21] = 1.0
    right[:, 21] = 1.0
    freezes = fusion > 0.0
    port_count = port_node.shape[0]
    port_flux = np.zeros((port_count, 3))
    port_sums = np.zeros((port_count + 1, 2))
    drain = np.zeros(n)
    ice_old = np.zeros(n)
    lower = np.zeros((n, 4))
    diagonal = np.zeros((n, 4))
    upper = np.zeros((n, 4))
    rhs = np.zeros((n, 2))
    z_old = z.copy()
    T_old = T.copy()
    w_old = np.zeros(n)
    f_old = np.zeros(n)
    b = np.zeros((2, 8))
    flux = np.zeros((2, 6))
    sums = np.zeros((2, 6))
    boundary_energy = np.zeros(2)
    dt_wish = control[0]
    began = stats[1]
    recorded = record_at

    for i in range(n):
        _properties(z[i], T[i], material_left[i], by_z, by_phi, by_t, scalars, air, rho_rv, left[i])
        w_old[i] = left[i, 0]
        if freezes:
            _frozen(z[i], T[i], material_left[i], by_z, scalars, left[i])
            ice_old[i] = left[i, 18]
        f_old[i] = _film(PA * np.sinh(z[i]))[0] if volume[i] == 0.0 else 0.0

    for step in range(first_step, last_step):
        done = 0.0
        tries = 0
        worst = 0.0
        worst_at = 0
        while done < step_s * (1.0 - 1e-12):
            tries += 1
            if tries > MOST_TRIES:  # asked of every try: a step taken with many iterations is halved too
                stats[3] = step * step_s + done
                stats[4] = worst_at
                stats[5] = worst
                return FAILED
            dt = min(dt_wish, largest_step, step_s - done)
            if step_s - done - dt < 1e-9 * step_s:
                dt = step_s - done
            share = (done + dt) / step_s
            # Over a short step the remainder of the steps before would be an enormous flux: it is paid in parts.
            paid = min(1.0, dt / CARRY_S)
            allowed = max(paid, LEAST_ALLOWED)
            for end in range(2):
                for k in range(8):
                    b[end, k] = series[step, end, k, 0] + share * (series[step, end, k, 1] - series[step, end, k, 0])
            converged = False
            left_t = 0.0
            iterations = 0
            for iteration in range(MAX_ITERATIONS):
                iterations = iteration + 1
                # --- node properties and storage terms
                for i in range(n):
                    ml, mr = material_left[i], material_right[i]
                    _properties(z[i], T[i], ml, by_z, by_phi, by_t, scalars, air, rho_rv, left[i])
                    if freezes and volume[i] > 0.0:
                        _frozen(z[i], T[i], ml, by_z, scalars, left[i])
                    if mr != ml:
                        _properties(z[i], T[i], mr, by_z, by_phi, by_t, scalars, air, rho_rv, right[i])
                    else:
                        right[i, :] = left[i, :]
                    v = volume[i]
                    layer = node_layer[i]
                    s_heat = sources[step, layer, 0] * v * dt
                    s_water = sources[step, layer, 1] * v * dt
                    if v > 0.0:
                        w, w_z, w_t = left[i, 0], left[i, 1], left[i, 2]
                        rc = scalars[ml, 0]
                        rhs[i, 0] = (w - w_old[i]) * v - paid * carry_mass[i] - s_water
                        diagonal[i, 0] = w_z * v
                        diagonal[i, 1] = w_t * v
                        if carried:
                            rhs[i, 1] = (
                                v * ((rc + c_w * w) * (T[i] - ZERO) - (rc + c_w * w_old[i]) * (T_old[i] - ZERO))
                                - paid * carry_energy[i]
                                - s_heat
                            )
                            diagonal[i, 2] = v * c_w * w_z * (T[i] - ZERO)
                            diagonal[i, 3] = v * (rc + c_w * w + c_w * w_t * (T[i] - ZERO))
                        else:
                            rhs[i, 1] = v * (rc + c_w * w) * (T[i] - T_old[i]) - paid * carry_energy[i] - s_heat
                            diagonal[i, 2] = v * c_w * w_z * (T[i] - T_old[i])
                            diagonal[i, 3] = v * (rc + c_w * w + c_w * w_t * (T[i] - T_old[i]))
                        if freezes:
                            rhs[i, 1] -= fusion * v * (left[i, 18] - ice_old[i])
                            diagonal[i, 2] -= fusion * v * left[i, 19]
                            diagonal[i, 3] -= fusion * v * left[i, 20]
                    else:
                        e = np.exp(z[i])
                        film, film_z = _film(0.5 * PA * (e - 1.0 / e))
                        film_z *= 0.5 * PA * (e + 1.0 / e)
                        rhs[i, 0] = film - f_old[i] - paid * carry_mass[i]
                        diagonal[i, 0] = film_z
                        diagonal[i, 1] = 0.0
                        # The film's own heat: carried water changes place at the node's temperature.
                        heat = hl1 * (film * (T[i] - ZERO) - f_old[i] * (T_old[i] - ZERO))
                        rhs[i, 1] = heat - paid * carry_energy[i]
                        diagonal[i, 2] = hl1 * film_z * (T[i] - ZERO)
                        diagonal[i, 3] = hl1 * film
                    for k in range(4):
                        lower[i, k] = 0.0
                        upper[i, k] = 0.0
                # --- edges
                flow = through[step]
                for i in range(n - 1):
                    j = i + 1
                    A = right[i]
                    B = left[j]
                    # taken apart in either branch: one tuple for both, taken apart once, costs 8 % of the whole run
                    if edge_kind[i] == 0:
                        (
                            gv,
                            gv_zi,
                            gv_ti,
                            gv_zj,
                            gv_tj,
                            gl,
                            gl_zi,
                            gl_ti,
                            gl_zj,
                            gl_tj,
                            q,
                            q_zi,
                            q_ti,
                            q_zj,
                            q_tj,
                            d,
                            lam,
                        ) = _between_nodes(A, B, edge_length[i], volume[i], volume[j], T[i], T[j], freezes)
                    else:
                        (
                            gv,
                            gv_zi,
                            gv_ti,
                            gv_zj,
                            gv_tj,
                            gl,
                            gl_zi,
                            gl_ti,
                            gl_zj,
                            gl_tj,
                            q,
                            q_zi,
                            q_ti,
                            q_zj,
                            q_tj,
                            d,
                            lam,
                        ) = _through_resistance(
                            A,
                            B,
                            z[i],
                            z[j],
                            T[i],
                            T[j],
                            edge_heat[i],
                            edge_sd[i],
                            edge_table[i],
                            edge_rh_of[i],
                            edge_liquid[i],
                            membranes,
                        )
                    if flow != 0.0:
                        weight = _upstream(AIR_HEAT * flow / lam)
                        q += AIR_HEAT * flow * (weight * (T[i] - ZERO) + (1.0 - weight) * (T[j] - ZERO))
                        q_ti += AIR_HEAT * flow * weight
                        q_tj += AIR_HEAT * flow * (1.0 - weight)
                        carry = flow * air_vapour
                        weight = _upstream(carry / d)
                        gv += carry * (weight * A[14] + (1.0 - weight) * B[14])
                        gv_zi += carry * weight * A[15]
                        gv_ti += carry * weight * A[16]
                        gv_zj += carry * (1.0 - weight) * B[15]
                        gv_tj += carry * (1.0 - weight) * B[16]
                    # energy carried: the mean temperature of the edge
                    mean = 0.5 * (T[i] + T[j]) - ZERO
                    hv = hv0 + hv1 * mean
                    hl = hl1 * mean
                    e_flux = q + hv * gv + hl * gl
                    half = 0.5 * (hv1 * gv + hl1 * gl)
                    e_zi = q_zi + hv * gv_zi + hl * gl_zi
                    e_zj = q_zj + hv * gv_zj + hl * gl_zj
                    e_ti = q_ti + hv * gv_ti + hl * gl_ti + half
                    e_tj = q_tj + hv * gv_tj + hl * gl_tj + half
                    m_flux = gv + gl
                    rhs[i, 0] += dt * m_flux
                    rhs[j, 0] -= dt * m_flux
                    rhs[i, 1] += dt * e_flux
                    rhs[j, 1] -= dt * e_flux
                    diagonal[i, 0] += dt * (gv_zi + gl_zi)
                    diagonal[i, 1] += dt * (gv_ti + gl_ti)
                    diagonal[i, 2] += dt * e_zi
                    diagonal[i, 3] += dt * e_ti
                    upper[i, 0] = dt * (gv_zj + gl_zj)
                    upper[i, 1] = dt * (gv_tj + gl_tj)
                    upper[i, 2] = dt * e_zj
                    upper[i, 3] = dt * e_tj
                    diagonal[j, 0] -= dt * (gv_zj + gl_zj)
                    diagonal[j, 1] -= dt * (gv_tj + gl_tj)
                    diagonal[j, 2] -= dt * e_zj
                    diagonal[j, 3] -= dt * e_tj
                    lower[j, 0] = -dt * (gv_zi + gl_zi)
                    lower[j, 1] = -dt * (gv_ti + gl_ti)
                    lower[j, 2] = -dt * e_zi
                    lower[j, 3] = -dt * e_ti
                _drain_away(z, T, volume, dt, hl1, drain, rhs, diagonal)
                # --- ports
                for k in range(port_count):
                    i = port_node[k]
                    S = left[i]
                    gx = ports[step, k, 3] * (ports[step, k, 5] - S[14])
                    hv = hv0 + hv1 * (0.5 * (T[i] + ports[step, k, 4]) - ZERO)
                    water = ports[step, k, 0]
                    e_in = (
                        ports[step, k, 2] * (ports[step, k, 4] - T[i])
                        + hv * gx
                        + hl1 * water * (ports[step, k, 1] - ZERO)
                    )
                    rhs[i, 0] -= dt * (water + gx)
                    rhs[i, 1] -= dt * e_in
                    diagonal[i, 0] += dt * ports[step, k, 3] * S[15]
                    diagonal[i, 1] += dt * ports[step, k, 3] * S[16]
                    diagonal[i, 2] += dt * hv * ports[step, k, 3] * S[15]
                    diagonal[i, 3] += dt * (ports[step, k, 2] + hv * ports[step, k, 3] * S[16] - 0.5 * hv1 * gx)
                    port_flux[k, 0] = water
                    port_flux[k, 1] = gx
                    port_flux[k, 2] = e_in
                # --- ends
                for end in range(2):
                    i = 0 if end == 0 else n - 1
                    S = left[i]
                    hk = kinds[end, 0]
                    mk = kinds[end, 1]
                    q_film = 0.0
                    q_given = 0.0
                    dq = 0.0
                    if hk == 1:
                        q_film = b[end, 1] * (b[end, 0] - T[i])
                        dq = -b[end, 1]
                        q_given = b[end, 2]
                        beyond, beyond_t = _emitted_beyond(emission[end], b[end, 0], T[i])
                        q_film -= beyond
                        dq -= beyond_t
                    elif hk == 2:
                        q_given = b[end, 2]
                    gv = 0.0
                    gv_z = 0.0
                    gv_t = 0.0
                    if mk == 1:
                        gv = b[end, 4] * (b[end, 3] - S[14])
                        gv_z = -b[end, 4] * S[15]
                        gv_t = -b[end, 4] * S[16]
                    elif mk == 2:
                        gv = b[end, 5]
                    entering = flow if end == 0 else -flow  # air, positive into the wall
                    air_heat = 0.0
                    air_heat_t = 0.0
                    if entering > 0.0:
                        if mk == 1:
                            gv += entering * air_vapour * b[end, 3]
                        else:
                            gv += entering * air_vapour * S[14]
                            gv_z += entering * air_vapour * S[15]
                            gv_t += entering * air_vapour * S[16]
                        air_heat = AIR_HEAT * entering * ((b[end, 0] if hk < 2 else T[i]) - ZERO)
                        air_heat_t = 0.0 if hk < 2 else AIR_HEAT * entering
                    elif entering < 0.0:
                        gv += entering * air_vapour * S[14]
                        gv_z += entering * air_vapour * S[15]
                        gv_t += entering * air_vapour * S[16]
                        air_heat = AIR_HEAT * entering * (T[i] - ZERO)
                        air_heat_t = AIR_HEAT * entering
                    rain = b[end, 6]
                    off = 0.0
                    off_z = 0.0
                    if scalars[material_left[i], 5] == 0.0:
                        off = rain  # nothing draws liquid in: all of it runs off
                    elif runoff_on[end] and z[i] < 0.0:
                        e = np.exp(z[i])
                        off = -RUN_OFF * 0.5 * PA * (e - 1.0 / e)
                        off_z = -RUN_OFF * 0.5 * PA * (e + 1.0 / e)
                    gl = rain - off
                    # vapour crosses the film at the mean of air and surface; water leaves at the surface's T
                    t_env = b[end, 0] if hk == 1 else T[i]
                    half_env = 0.5 if hk == 1 else 1.0
                    t_v = (0.5 * (t_env + T[i]) if hk == 1 else T[i]) - ZERO
                    hv = hv0 + hv1 * t_v
                    t_rain = b[end, 7] - ZERO
                    t_s = T[i] - ZERO
                    e_liquid = hl1 * (rain * t_rain - off * t_s)
                    e_in = q_film + q_given + air_heat + hv * gv + e_liquid
                    rhs[i, 0] -= dt * (gv + gl)
                    rhs[i, 1] -= dt * e_in
                    diagonal[i, 0] -= dt * (gv_z - off_z)
                    diagonal[i, 1] -= dt * gv_t
                    diagonal[i, 2] -= dt * (hv * gv_z - hl1 * off_z * t_s)
                    diagonal[i, 3] -= dt * (dq + air_heat_t + hv * gv_t + hv1 * half_env * gv - hl1 * off)
                    flux[end, 0] = q_film + air_heat + (q_given if hk == 2 else 0.0)
                    flux[end, 1] = q_given if hk == 1 else 0.0
                    flux[end, 2] = gv
                    flux[end, 3] = gl
                    flux[end, 4] = rain
                    flux[end, 5] = off
                    boundary_energy[end] = e_in
                    if mk == 0:  # prescribed surface RH: the water it takes arrives as vapour
                        for k in range(2):
                            lower[i, 2 + k] -= hv * lower[i, k]
                            upper[i, 2 + k] -= hv * upper[i, k]
                            diagonal[i, 2 + k] -= hv * diagonal[i, k]
                        diagonal[i, 3] -= hv1 * rhs[i, 0]
                        rhs[i, 1] -= hv * rhs[i, 0]
                        flux[end, 2] += rhs[i, 0] / dt
                        boundary_energy[end] += hv * rhs[i, 0] / dt
                        kelvin = scalars[material_left[i], 4]
                        u = -rho_rv * (kelvin if kelvin > 0.0 else T[i]) * np.log(b[end, 3]) / PA
                        rhs[i, 0] = z[i] - np.log(u + np.sqrt(u * u + 1.0))
                        diagonal[i, 0] = 1.0
                        diagonal[i, 1] = 0.0 if kelvin > 0.0 else -u / (T[i] * np.sqrt(u * u + 1.0))
                        for k in range(2):
                            lower[i, k] = 0.0
                            upper[i, k] = 0.0
                    if hk == 0:  # prescribed surface temperature: what the wall takes is the flux in
                        excess = rhs[i, 1] / dt
                        flux[end, 0] = excess
                        boundary_energy[end] += excess
                        rhs[i, 1] = T[i] - b[end, 0]
                        diagonal[i, 2] = 0.0
                        diagonal[i, 3] = 1.0
                        for k in range(2, 4):
                            lower[i, k] = 0.0
                            upper[i, k] = 0.0
                if not heat_on:
                    for i in range(n):
                        rhs[i, 1] = T[i] - T_old[i]
                        diagonal[i, 2] = 0.0
                        diagonal[i, 3] = 1.0
                        for k in range(2, 4):
                            lower[i, k] = 0.0
                            upper[i, k] = 0.0
                # --- test
                worst, worst_at = _largest(rhs, tolerance_mass, tolerance_energy, allowed)
                if worst <= 1.0:
                    converged = True
                    break
                if not np.isfinite(worst):
                    break
                # Two points whose tangents lead to each other would be visited for ever: shorten the steps.
                reach = 2.5 if iteration < 9 else max(2.5 * 0.6 ** (iteration - 8), 0.1)
                if not _solve_blocks(lower, diagonal, upper, rhs):
                    break
                left_at = _shortened_step(z, T, rhs, reach)
                if left_at >= 0:
                    worst_at = left_at
                    left_t = T[left_at]
                    break
            stats[1] += iterations
            if not converged:
                stats[2] += 1
                for i in range(n):
                    z[i] = z_old[i]
                    T[i] = T_old[i]
                dt_wish = 0.3 * dt
                if dt_wish < smallest_step:
                    stats[3] = step * step_s + done
                    stats[4] = worst_at
                    stats[5] = worst
                    stats[6] = left_t
                    return FAILED
                continue
            # --- accept
            stats[0] += 1
            for i in range(n):
                carry_mass[i] = carry_mass[i] * (1.0 - paid) - rhs[i, 0]
                carry_energy[i] = carry_energy[i] * (1.0 - paid) - rhs[i, 1]
            for end in range(2):
                i = 0 if end == 0 else n - 1
                if kinds[end, 0] == 0 or not heat_on:
                    carry_energy[i] = 0.0
                if kinds[end, 1] == 0:
                    carry_mass[i] = 0.0
            for i in range(n):
                v = volume[i]
                if v > 0.0:
                    w = left[i, 0]
                    totals[4] += (w - w_old[i]) * v
                    rc = scalars[material_left[i], 0]
                    if carried:
                        totals[5] += v * ((rc + c_w * w) * (T[i] - ZERO) - (rc + c_w * w_old[i]) * (T_old[i] - ZERO))
                    else:
                        totals[5] += v * (rc + c_w * w) * (T[i] - T_old[i])
                    if freezes:
                        totals[5] -= fusion * v * (left[i, 18] - ice_old[i])
                        ice_old[i] = left[i, 18]
                    w_old[i] = w
                    totals[0] += sources[step, node_layer[i], 1] * v * dt
                    totals[1] += sources[step, node_layer[i], 0] * v * dt
                else:
                    film = _film(PA * np.sinh(z[i]))[0]
                    totals[4] += film - f_old[i]
                    totals[5] += hl1 * (film * (T[i] - ZERO) - f_old[i] * (T_old[i] - ZERO))
                    f_old[i] = film
                if z[i] < z_seen[i, 0]:
                    z_seen[i, 0] = z[i]
                if z[i] > z_seen[i, 1]:
                    z_seen[i, 1] = z[i]
                z_old[i] = z[i]
                T_old[i] = T[i]
            for end in range(2):
                water = flux[end, 2] + flux[end, 3]
                totals[0] += water * dt
                totals[2] += (abs(flux[end, 2]) + abs(flux[end, 3])) * dt
                totals[1] += boundary_energy[end] * dt
                totals[3] += (abs(boundary_energy[end])) * dt
                for k in range(6):
                    sums[end, k] += flux[end, k] * dt
            for i in range(n):
                if drain[i] > 0.0:
                    totals[0] -= drain[i] * dt
                    totals[2] += drain[i] * dt
                    totals[1] -= hl1 * drain[i] * (T[i] - ZERO) * dt
                    port_sums[port_count, 0] -= drain[i] * dt
            for k in range(port_count):
                gained = port_flux[k, 0] + port_flux[k, 1]
                totals[0] += gained * dt
                totals[2] += abs(gained) * dt
                totals[1] += port_flux[k, 2] * dt
                totals[3] += abs(port_flux[k, 2]) * dt
                port_sums[k, 0] += port_flux[k, 0] * dt
                port_sums[k, 1] += port_flux[k, 1] * dt
            if not heat_on:
                for i in range(n):
                    carry_energy[i] = 0.0
            done += dt
            if iterations <= 5:
                dt_wish = max(dt_wish, min(2.0 * dt, largest_step)) if dt < dt_wish else 2.0 * dt
            elif iterations > 10:
                dt_wish = max(0.5 * dt, smallest_step)
            else:
                dt_wish = dt
        if (step + 1) % record_every == 0:
            for i in range(n):
                rec_z[recorded, i] = z[i]
                rec_T[recorded, i] = T[i]
            for k in range(layer_count):
                rec_water[recorded, k] = 0.0
            for i in range(n):
                if volume[i] > 0.0:
                    rec_water[recorded, node_layer[i]] += w_old[i] * volume[i]
                else:
                    rec_water[recorded, layer_count] = rec_water[recorded, layer_count] * (i > 0) + f_old[i]
            for end in range(2):
                for k in range(6):
                    rec_flux[recorded, end, k] = sums[end, k] / (step_s * record_every)
                    sums[end, k] = 0.0
            for k in range(port_count + 1):
                for part in range(2):
                    rec_port[recorded, k, part] = port_sums[k, part] / (step_s * record_every)
                    port_sums[k, part] = 0.0
            recorded += 1
            if stats[1] - began > BUDGET and step + 1 < last_step:
                control[0] = dt_wish
                control[1] = step + 1
                return PAUSED
    control[0] = dt_wish
    control[1] = last_step
    return OK
