"""The answer to a whole shot: every stage derived, every rule asked, everything drawn."""

from .judged import Judged, judge_kit, judged
from .shot_report import Depth, PlateReport, ShotReport, Study, plate_report, report, study

__all__ = [
    "Depth",
    "Judged",
    "PlateReport",
    "ShotReport",
    "Study",
    "judge_kit",
    "judged",
    "plate_report",
    "report",
    "study",
]
