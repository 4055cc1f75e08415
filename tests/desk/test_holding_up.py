"""What would hold the window up: garbage of other threads is taken apart by its own, and nothing heavy is loaded first."""

import subprocess
import sys
import threading

from lathed_solid.desk.garbage import Collector


def test_garbage_of_another_thread_is_collected_by_the_windows_own(qtbot):
    gone = []

    class Ring:
        def __init__(self):
            self.own = self

        def __del__(self):
            gone.append(threading.current_thread())

    def work():
        for _ in range(5000):
            Ring()

    collector = Collector()
    collector.begin()
    thread = threading.Thread(target=work)
    thread.start()
    thread.join()
    assert gone == []
    qtbot.waitUntil(lambda: len(gone) == 5000, timeout=5000)
    assert set(gone) == {threading.main_thread()}


def test_the_window_stands_before_the_kernel_and_scipy_are_loaded():
    """They take seconds: what only describes what they do is loaded without them."""
    code = "import sys, lathed_solid.desk.window; sys.exit('OCP' in sys.modules or 'scipy' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0
