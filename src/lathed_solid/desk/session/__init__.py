"""The session: the open jobs, the edits of the one being worked on, what is selected in it, and its builds."""

from .documents import OpenJob
from .session import Session
from .talk import Tone, state_folder

__all__ = ["OpenJob", "Session", "Tone", "state_folder"]
