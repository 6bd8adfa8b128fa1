"""Earthworks of a case: depth tables of its sections, and what its line asks of them."""

from delgrun.core.earthworks.evaluator import Earthworks, Evaluation, evaluate_line
from delgrun.core.ground.along import GroundSections
from delgrun.core.section.section import DepthTable, build_depth_table
from delgrun.core.section.typical_section import SectionSetting
from delgrun.service.case import Case, once
from delgrun.service.made import Kept
from delgrun.service.results import of_road


@once
def tables(case: Case) -> Kept[DepthTable]:
    return case.made(_tables, of_road.across(case), case.setting, on_shelf=DepthTable)


def _tables(across: GroundSections, setting: SectionSetting) -> DepthTable:
    return build_depth_table(across, setting.resolve(across.chainage_m))


@once
def works(case: Case) -> Kept[Earthworks]:
    return case.made(Earthworks.of, of_road.across(case), case.setting, tables(case))


@once
def evaluation(case: Case) -> Evaluation:
    # Quicker made than looked up, and each move of the pointer is another line.
    return evaluate_line(works(case).value, case.line, case.cost.value)
