"""Compiled kernel of the solvent-loss film (see evaporative.py, which is the only importer).

Diffusion of solvent in polymer-fixed coordinates on one geometric grid over the whole film, fine at the surface. The
face diffusivity is the integral mean (Simpson) of D between its two values, in the surface half-cell too: a harmonic
mean is 5-20 % wrong on the same grid. Each step is two implicit stages of second order, its length set by the gap to
the first-order answer (step doubling with extrapolation took three stages and left four times the error). Every
update is in flux form, so that the solvent balance closes to rounding whatever the step.
"""

import math

import numpy as np
from numba import njit

D0, BETA, GAMMA, EA, KE20, CHI, TG_DRY, TG_SOLVENT = range(8)
T_REF_K = 293.15  # [S] 20 C, where D0 and ke20 hold
GAS_R = 8.314462618  # [S] J/(mol K)
EA_SURFACE = 38000.0  # [A] J/mol, evaporation at the surface (docs/maths.md)
COLUMNS = 11  # t, dry, film, phi_mean, phi_max, Tg_min, Tg_top, Tg_surface, put, lost, Tg_warmed
TOP_UM = 6.0  # [A] the depth a scuff looks at
WARMED_UM = 30.0  # [A] the depth a wheel warms
NEWTON_ITERATIONS = 4
NEWTON_ENOUGH = 3e-4  # relative change of u at which an iteration is left; the balance holds at any
MOST_TRIES = 5_000_000  # far beyond any sound history
NEGLIGIBLE_U = 1e-9  # solvent per polymer that rounding may leave below nothing
# A step is at most this share of the time since the last event, so that windows can be read between steps.
STEP_SHARE, STEP_LEAST_H = 0.15, 0.02
SDIRK = 1.0 - math.sqrt(0.5)  # [S] the two-stage, second-order, L-stable scheme
FLOOR_U = 1e-3  # solvent per polymer below which errors are counted as absolute


@njit(cache=True, nogil=True, error_model="numpy")
def _diffusivity(u, scale, beta, gamma):
    u = max(u, 0.0)  # an overshoot of the iteration; the step that keeps one is refused
    phi = u / (1.0 + u)
    return scale * math.exp(beta * phi / (1.0 + gamma * phi)) / ((1.0 + u) * (1.0 + u))


@njit(cache=True, nogil=True, error_model="numpy")
def _activity(u, chi):
    phi = u / (1.0 + u)
    rest = 1.0 - phi
    e = math.exp(rest + chi * rest * rest)
    slope = e * (1.0 - phi * (1.0 + 2.0 * chi * rest)) / ((1.0 + u) * (1.0 + u))
    return phi * e, slope


@njit(cache=True, nogil=True, error_model="numpy")
def _surface(u_top, half, ke, scale, beta, gamma, chi, guess):
    """Surface value, flux out and d(flux)/d(u_top) from the flux balance over the top half-cell."""
    if u_top <= 0.0:
        return 0.0, 0.0, 0.0
    d_top = _diffusivity(u_top, scale, beta, gamma)
    low, high = 0.0, u_top
    u = min(max(guess, 0.0), u_top)
    a, da = _activity(u, chi)
    d_s = _diffusivity(u, scale, beta, gamma)
    for _ in range(60):
        d_mid = _diffusivity(0.5 * (u + u_top), scale, beta, gamma)
        mean = (d_s + 4.0 * d_mid + d_top) / 6.0
        balance = mean * (u_top - u) / half - ke * a
        if balance > 0.0:
            low = u
        else:
            high = u
        step = balance / (d_s / half + ke * da)
        new = u + step
        if not (low <= new <= high):
            new = 0.5 * (low + high)
        done = abs(new - u) <= 1e-10 + 1e-6 * u
        u = new
        a, da = _activity(u, chi)
        d_s = _diffusivity(u, scale, beta, gamma)
        if done:
            break
    resistance = d_s + ke * da * half
    return u, ke * a, ke * da * d_top / resistance


@njit(cache=True, nogil=True, error_model="numpy")
def _implicit(u0, dt, z, frac, m, scale, ke, u_s, out, work):
    """One implicit Euler step from u0 into out; returns (surface value, solvent lost [um])."""
    n = u0.shape[0]
    beta, gamma, chi = m[BETA], m[GAMMA], m[CHI]
    lower, diag, upper, rhs, d = work[0], work[1], work[2], work[3], work[4]
    for i in range(n):
        out[i] = u0[i]
    lost = 0.0
    for _ in range(NEWTON_ITERATIONS):
        for i in range(n):
            d[i] = _diffusivity(out[i], scale, beta, gamma)
            diag[i] = z * frac[i] / dt
            rhs[i] = -(out[i] - u0[i]) * diag[i]
            lower[i] = 0.0
            upper[i] = 0.0
        for i in range(n - 1):
            dist = 0.5 * z * (frac[i] + frac[i + 1])
            d_mid = _diffusivity(0.5 * (out[i] + out[i + 1]), scale, beta, gamma)
            flux = (d[i] + 4.0 * d_mid + d[i + 1]) / 6.0 * (out[i + 1] - out[i]) / dist
            rhs[i] += flux
            rhs[i + 1] -= flux
            below, above = d[i] / dist, d[i + 1] / dist
            diag[i] += below
            upper[i] -= above
            diag[i + 1] += above
            lower[i + 1] -= below
        u_s, q, dq = _surface(out[n - 1], 0.5 * z * frac[n - 1], ke, scale, beta, gamma, chi, u_s)
        rhs[n - 1] -= q
        diag[n - 1] += dq
        for i in range(1, n):
            w = lower[i] / diag[i - 1]
            diag[i] -= w * upper[i - 1]
            rhs[i] -= w * rhs[i - 1]
        rhs[n - 1] /= diag[n - 1]
        for i in range(n - 2, -1, -1):
            rhs[i] = (rhs[i] - upper[i] * rhs[i + 1]) / diag[i]
        change = 0.0
        top_change = rhs[n - 1]
        for i in range(n):
            out[i] += rhs[i]
            change = max(change, abs(rhs[i]) / (1e-6 + abs(out[i])))
        lost = dt * (q + dq * top_change)
        if change < NEWTON_ENOUGH:
            break
    return u_s, lost


@njit(cache=True, nogil=True, error_model="numpy")
def _remap(u, frac, z_old, z_new, u_added, out):
    """Conservative remap onto the grid of the new film; a layer of u_added lies above z_old, or the top is cut off."""
    n = u.shape[0]
    j = 0
    top_j = z_old * frac[0]
    bottom = 0.0
    for i in range(n):
        top = z_new if i == n - 1 else bottom + z_new * frac[i]
        total, at = 0.0, bottom
        while at < top - 1e-15 * z_new:
            if j < n and at < z_old * (1.0 - 1e-15):
                upto = min(top, top_j)
                total += u[j] * (upto - at)
                if upto >= top_j - 1e-15 * z_new:
                    j += 1
                    if j < n:
                        top_j = z_old if j == n - 1 else top_j + z_old * frac[j]
                at = upto
            else:
                total += u_added * (top - at)
                at = top
        out[i] = total / (top - bottom)
        bottom = top


@njit(cache=True, nogil=True, error_model="numpy")
def _glass(phi, m):
    return 1.0 / ((1.0 - phi) / m[TG_DRY] + phi / m[TG_SOLVENT])


@njit(cache=True, nogil=True, error_model="numpy")
def _softest_over(z, u, frac, u_s):
    """Most solvent per polymer from the surface down to the depth a scuff looks at, and to the one a wheel warms."""
    most, top, depth, prev_depth, prev_u = u_s, -1.0, 0.0, 0.0, u_s
    for i in range(u.shape[0] - 1, -1, -1):
        width = z * frac[i]
        centre = depth + 0.5 * width
        if top < 0.0 and centre >= TOP_UM:
            top = max(most, prev_u + (TOP_UM - prev_depth) / (centre - prev_depth) * (u[i] - prev_u))
        if centre >= WARMED_UM:
            return top, max(most, prev_u + (WARMED_UM - prev_depth) / (centre - prev_depth) * (u[i] - prev_u))
        most = max(most, u[i])
        prev_depth, prev_u = centre, u[i]
        depth += width
    return (most if top < 0.0 else top), most


@njit(cache=True, nogil=True, error_model="numpy")
def _measure(row, t, z, u, frac, m, u_s, put, lost):
    n = u.shape[0]
    film, phi_mean, u_max = 0.0, 0.0, u_s
    for i in range(n):
        film += (1.0 + u[i]) * frac[i]
        phi_mean += u[i] / (1.0 + u[i]) * frac[i]
        u_max = max(u_max, u[i])
    # No flux into the wood: a parabola through the two lowest cells gives the value at the wood itself.
    z1, z2 = 0.5 * frac[0], frac[0] + 0.5 * frac[1]
    b = (u[1] - u[0]) / (z2 * z2 - z1 * z1)
    at_wood = u[0] - b * (z1 * z1 + frac[0] * frac[0] / 12.0)
    u_max = max(u_max, at_wood)
    u_top_max, u_warmed = _softest_over(z, u, frac, u_s)
    phi_max = u_max / (1.0 + u_max)
    row[0], row[1], row[2], row[3], row[4] = t, z, film * z, phi_mean, phi_max
    row[5] = _glass(phi_max, m) - 273.15
    row[6] = _glass(u_top_max / (1.0 + u_top_max), m) - 273.15
    row[7] = _glass(u_s / (1.0 + u_s), m) - 273.15
    row[8], row[9] = put, lost
    row[10] = _glass(u_warmed / (1.0 + u_warmed), m) - 273.15


@njit(cache=True, nogil=True, error_model="numpy")
def integrate(
    ev_t,
    ev_sand,
    ev_um,
    ev_u0,
    cl_t,
    cl_k,
    cl_flow,
    cl_pace,
    samples,
    m,
    airflow,
    t_end,
    frac,
    rtol,
    rows,
    at_sample,
    profiles,
    u,
    state,
):
    """Fill rows (one a step) and at_sample/profiles (one a sample).

    Returns the rows used, -1 when there are too few of them, -2 when stuck.

    Events, climate and samples are sorted by time; a sample at an event's hour is taken before the event. u and state
    (t, z, u_s, put, lost, dt, since) are where it starts, and where it ended.
    """
    n = frac.shape[0]
    one, base, two, hold = np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n)
    work = np.zeros((5, n))
    n_ev, n_cl, n_s = ev_t.shape[0], cl_t.shape[0], samples.shape[0]
    i_ev, i_cl, i_s, used = 0, 0, 0, 0
    t, z, u_s, put, lost, dt, since = state
    tries = 0
    last_coat = -1  # windows open after the last coat: only from there on must steps be short
    for i in range(n_ev):
        if not ev_sand[i]:
            last_coat = i
    while True:
        while i_s < n_s and samples[i_s] <= t + 1e-12:
            if z > 0.0:
                _measure(at_sample[i_s], samples[i_s], z, u, frac, m, u_s, put, lost)
                for i in range(n):
                    profiles[i_s, i] = u[i]
            else:
                at_sample[i_s, 0] = samples[i_s]
            i_s += 1
        while i_ev < n_ev and ev_t[i_ev] <= t + 1e-12:
            before = 0.0
            for i in range(n):
                before += u[i] * frac[i] * z
            if ev_sand[i_ev]:
                z_new = z - ev_um[i_ev]
                if z_new <= 1e-6:
                    z_new = 0.0
                    lost += before
                    for i in range(n):
                        u[i] = 0.0
                else:
                    _remap(u, frac, z, z_new, 0.0, hold)
                    after = 0.0
                    for i in range(n):
                        u[i] = hold[i]
                        after += u[i] * frac[i] * z_new
                    lost += before - after
            else:
                z_new = z + ev_um[i_ev]
                put += ev_um[i_ev] * ev_u0[i_ev]
                _remap(u, frac, z, z_new, ev_u0[i_ev], hold)
                for i in range(n):
                    u[i] = hold[i]
            z = z_new
            u_s = u[n - 1]
            dt = 1e-5
            since = t
            i_ev += 1
        while i_cl + 1 < n_cl and cl_t[i_cl + 1] <= t + 1e-12:
            i_cl += 1
            # Air changes the pace, not the film: the error alone says whether steps must be shorter now.
            dt = min(dt, 0.5)
        if t >= t_end - 1e-12:
            state[0], state[1], state[2], state[3], state[4], state[5], state[6] = t, z, u_s, put, lost, dt, since
            break
        stop = t_end
        if i_ev < n_ev:
            stop = min(stop, ev_t[i_ev])
        if i_s < n_s:
            stop = min(stop, samples[i_s])
        if i_cl + 1 < n_cl:
            stop = min(stop, cl_t[i_cl + 1])
        if z <= 0.0:
            t = stop
            continue
        temp_k = cl_k[i_cl]
        inverse = 1.0 / temp_k - 1.0 / T_REF_K
        scale = m[D0] * math.exp(-m[EA] / GAS_R * inverse) * cl_pace[i_cl]
        ke = m[KE20] * math.exp(-EA_SURFACE / GAS_R * inverse) * airflow * cl_flow[i_cl] * cl_pace[i_cl]
        while t < stop - 1e-12:
            tries += 1
            if tries > MOST_TRIES:
                return -2
            step = min(dt, stop - t)
            if i_ev > last_coat:
                step = min(step, max(STEP_SHARE * (t - since), STEP_LEAST_H))
            s_one, lost_one = _implicit(u, SDIRK * step, z, frac, m, scale, ke, u_s, one, work)
            least = 1.0
            for i in range(n):
                base[i] = u[i] + (one[i] - u[i]) * (1.0 - SDIRK) / SDIRK
                least = min(least, base[i], one[i])
            if not least >= -NEGLIGIBLE_U and step > 1e-9:
                dt = 0.4 * step
                continue
            s_two, lost_two = _implicit(base, SDIRK * step, z, frac, m, scale, ke, s_one, two, work)
            err = 0.0
            for i in range(n):
                # The second-order answer against the first-order one that uses the first stage alone.
                gap = abs(two[i] - u[i] - (one[i] - u[i]) / SDIRK)
                err = max(err, gap / (rtol * (abs(two[i]) + FLOOR_U)))
                least = min(least, two[i])
            if not least >= -NEGLIGIBLE_U:
                err = max(err, 4.0)
            if not err <= 1.0 and step > 1e-9:
                dt = step * max(0.2, 0.85 / math.sqrt(err))
                continue
            for i in range(n):
                u[i] = two[i]
            lost += lost_one * (1.0 - SDIRK) / SDIRK + lost_two
            u_s = min(s_two, u[n - 1])
            t = stop if step >= stop - t - 1e-12 else t + step
            grown = step * min(4.0, 0.9 / math.sqrt(err + 1e-12))
            # A step cut short by a stop says nothing against the longer one before it.
            dt = max(grown, dt) if step < dt else grown
            if used >= rows.shape[0]:
                return -1
            _measure(rows[used], t, z, u, frac, m, u_s, put, lost)
            used += 1
    return used
