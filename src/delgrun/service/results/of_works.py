"""Earthworks of a case: what its line asks of its sections."""

from delgrun.core.earthworks.evaluator import Earthworks, Evaluation, evaluate_line
from delgrun.service.case import Case, once
from delgrun.service.made import Kept
from delgrun.service.results import of_design


@once
def works(case: Case) -> Kept[Earthworks]:
    return case.made(Earthworks.of, of_design.across(case), of_design.design(case), of_design.built(case))


@once
def evaluation(case: Case) -> Evaluation:
    # Quicker made than looked up, and each move of the pointer is another line.
    own = works(case).value
    rest = case.rest if case.rest is not None and works(case.rest).value is own else None
    return evaluate_line(own, case.line, case.cost.value, None if rest is None else evaluation(rest))
