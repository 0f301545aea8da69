"""What threads free goes back: one heap for all of them, where the GNU C library allocates."""

import ctypes
import subprocess
import sys

import pytest

CODE = """
import ctypes, sys, threading
if sys.argv[2] == "one":
    from nonna.desk.threads.memory_use import give_memory_back
    give_memory_back()
gate = threading.Barrier(4)
def work():
    kept = bytearray(50_000)
    gate.wait()  # all at once, or a thread would take over the heap of one that ended
threads = [threading.Thread(target=work) for _ in range(4)]
[t.start() for t in threads]
[t.join() for t in threads]
c = ctypes.CDLL(None)
c.fopen.restype = ctypes.c_void_p
out = c.fopen(sys.argv[1].encode(), b"w")
c.malloc_info(0, ctypes.c_void_p(out))
c.fclose(ctypes.c_void_p(out))
"""


@pytest.mark.skipif(not hasattr(ctypes.CDLL(None), "mallopt"), reason="another C library allocates")
def test_one_heap_serves_all_threads(tmp_path):
    def heaps(how):
        told = tmp_path / f"{how}.xml"
        subprocess.run([sys.executable, "-c", CODE, str(told), how], check=True)
        return told.read_text().count("<heap nr=")

    assert heaps("one") == 1
    assert heaps("usual") > 1
