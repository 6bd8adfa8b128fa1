"""Earthworks of a case: depth tables of its sections, and what its line asks of them."""

from delgrun.core.earthworks.evaluator import Earthworks, Evaluation, evaluate_line
from delgrun.core.section.section import DepthTable, build_depth_table
from delgrun.service.case import Case, once
from delgrun.service.made import Kept
from delgrun.service.results import of_road


@once
def tables(case: Case) -> Kept[DepthTable]:
    return case.made(build_depth_table, of_road.across(case), case.setting, on_shelf=DepthTable)


@once
def works(case: Case) -> Kept[Earthworks]:
    return case.made(Earthworks.of, of_road.across(case), tables(case), case.setting)


@once
def evaluation(case: Case) -> Evaluation:
    # Quicker made than looked up, and each move of the pointer is another line.
    return evaluate_line(works(case).value, case.line, case.cost.value)
