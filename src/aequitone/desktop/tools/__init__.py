"""The tools beside the route. A new one is a folder here and its class in TOOLS."""

from aequitone.desktop.station import Tool
from aequitone.desktop.tools.bench.tool import BenchTool
from aequitone.desktop.tools.controls.tool import ControlsTool
from aequitone.desktop.tools.inputs.tool import InputsTool
from aequitone.desktop.tools.jobs.tool import JobsTool
from aequitone.desktop.tools.report.tool import ReportTool
from aequitone.desktop.tools.visits.tool import VisitsTool

TOOLS: tuple[type[Tool], ...] = (BenchTool, ControlsTool, InputsTool, JobsTool, ReportTool, VisitsTool)
