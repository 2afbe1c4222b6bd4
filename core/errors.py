"""The core's exceptions. Each says what is wrong, where, and carries a stable code."""

from __future__ import annotations


class CoreError(Exception):
    """Base of every error the core raises on purpose.

    message: a sentence for people; where: the place (a JSON path, a layer, a time) or "".
    """

    code = "core_error"

    def __init__(self, message: str, where: str = "") -> None:
        self.message = message
        self.where = where
        super().__init__(f"{message} ({where})" if where else message)


class OutOfRange(CoreError):
    """A value lies outside what the function or the model is valid for."""

    code = "out_of_range"


class CaseRefused(CoreError):
    """A case file or build-up says something impossible, or something not available yet."""

    code = "case_refused"


class ClimateGone(CaseRefused):
    """The hours of a climate that was imported are not there any more."""

    code = "climate_gone"


class NotAvailableYet(CaseRefused):
    """Valid in a case, but this version does not compute it: refused, never ignored."""

    code = "not_available_yet"


class NotConverged(CoreError):
    """The solver could not go on, even with the smallest step."""

    code = "not_converged"

    def __init__(self, time_s: float, place: str, residual: float) -> None:
        self.time_s, self.place, self.residual = time_s, place, residual
        super().__init__(
            f"the solver could not go on at hour {time_s / 3600:.2f}: largest residual {residual:.3g}",
            place,
        )


class Cancelled(CoreError):
    """The caller asked the computation to stop."""

    code = "cancelled"

    def __init__(self) -> None:
        super().__init__("the run was cancelled")
