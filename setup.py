"""The demo jobs go with the program when it is installed: they are written beside the source tree, not inside it."""

from pathlib import Path
from shutil import copy2

from setuptools import setup
from setuptools.command.build_py import build_py


class WithDemo(build_py):
    """Copies ``examples/*.lathed`` to ``lathed_solid/demo``."""

    def run(self) -> None:
        super().run()
        if getattr(self, "editable_mode", False):
            return  # the program finds them beside the source tree then
        target = Path(self.build_lib) / "lathed_solid" / "demo"
        target.mkdir(parents=True, exist_ok=True)
        for job in sorted((Path(__file__).parent / "examples").glob("*.lathed")):
            copy2(job, target / job.name)


setup(cmdclass={"build_py": WithDemo})
