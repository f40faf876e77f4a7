"""Sources that group their rows where they are, and how each does."""

from yuzen.shape.in_place.database import grouped_by_database
from yuzen.shape.in_place.distributed import grouped_by_workers
from yuzen.shape.in_place.file_set import grouped_by_engine
from yuzen.shape.plan.plan import Plan
from yuzen.sources.rows import Rows, Source
from yuzen.sources.sets.distributed import DistributedFiles
from yuzen.sources.sets.file_set import FileSet
from yuzen.sources.sql.database import Database


def grouped(source: Source, plan: Plan) -> tuple[Rows, Plan] | None:
    """The rows grouped in place, and the remaining plan; None where they have to be read."""
    match source:
        case Database():
            return grouped_by_database(source.relation, plan)
        case FileSet():
            return grouped_by_engine(source, plan)
        case DistributedFiles():
            return grouped_by_workers(source, plan)
        case _:
            return None
