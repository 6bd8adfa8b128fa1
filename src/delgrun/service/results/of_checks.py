"""What all checks say of a case's line."""

from delgrun.core.inputs import TRUCK
from delgrun.core.limits.check import Checked, LimitUse
from delgrun.core.limits.checks import all_uses
from delgrun.core.trucks.trucks import Truck
from delgrun.service.case import Case, once
from delgrun.service.results import of_design, of_limits, of_works


@once
def checked(case: Case) -> Checked:
    truck: Truck = case.state.get(TRUCK)
    rest = checked(case.rest) if case.rest else None
    return Checked(
        case.line,
        of_limits.limits(case).value,
        of_works.works(case).value,
        of_works.evaluation(case),
        of_limits.plan_bends(case),
        truck,
        rest,
        of_design.design(case).value,
    )


@once
def uses(case: Case) -> list[LimitUse]:
    return all_uses(checked(case))
