"""Figures of a light fitted to readings, each with a tolerance beforehand: scipy's least
squares on the same residuals, the reference of core/bench's calibration. Run with Debian's
python3-scipy.

A load of 1 A at any voltage on a 12 V adapter, in a body of 3 K/W in 20 °C air. The figures are
in standard deviations: half of ±10 % of the draw, of ±15 % of the K/W, of ±5 % of the volts."""

import numpy as np
from scipy.optimize import least_squares

DRAW, SINK, VOLTS = 0.05, 0.075, 0.025


def model(theta):
    amps = 1 + DRAW * theta[0]
    return np.array([amps, 20 + 12 * (1 + VOLTS * theta[2]) * amps * 3 * (1 + SINK * theta[1])])


def sigma(amps, temperature):
    # a multimeter of 1.5 % and step/sqrt(12) of its 2 A range, and 1 % of any calculation (of a
    # rise, for a temperature); a thermocouple of 2.5 K and its tenths; half of each
    a = np.hypot(np.hypot(0.015 * amps, 0.001 / np.sqrt(12)), 0.01 * amps) / 2
    t = np.hypot(np.hypot(2.5, 0.1 / np.sqrt(12)), 0.01 * (temperature - 20)) / 2
    return np.array([a, t])


read = np.array([1.08, 66.0])
s = sigma(*model([0, 0, 0]))
fit = least_squares(lambda x: np.concatenate([(read - model(x)) / s, x]), [0, 0, 0], xtol=1e-14, ftol=1e-14)
cov = np.linalg.inv(fit.jac.T @ fit.jac)
print("amps", 1 + DRAW * fit.x[0], "K/W", 3 * (1 + SINK * fit.x[1]), "sd", np.sqrt(np.diag(cov)), "reads", model(fit.x))
