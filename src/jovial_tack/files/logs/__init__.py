"""Run logs: what the columns of a CSV mean, and its channels as arrays."""

from jovial_tack.files.logs.columns import ROLES, Channel, Role, with_named
from jovial_tack.files.logs.layout import LogLayout, survey_log
from jovial_tack.files.logs.read import LoadedLog, read_log

__all__ = [
    "ROLES",
    "Channel",
    "LoadedLog",
    "LogLayout",
    "Role",
    "read_log",
    "survey_log",
    "with_named",
]
