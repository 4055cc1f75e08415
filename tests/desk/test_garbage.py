"""Whatever is let go by a thread beside the window is taken apart by the window's own."""

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
