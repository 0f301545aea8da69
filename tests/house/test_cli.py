"""The command line as a person or a script meets it: real processes, exit codes, one plain line."""

import json
import subprocess
import sys
from importlib import import_module
from pathlib import Path

import pytest

from nonna.cli.main import run
from nonna.procedures.catalogue import evaluate
from nonna.procedures.listing import PROCEDURES
from tests.support.documents import REPEAT, SETTER, TOOL


def nonna(*arguments, stdin=b""):
    done = subprocess.run(
        [sys.executable, "-m", "nonna", *map(str, arguments)], input=stdin, capture_output=True, check=False
    )
    return done.returncode, done.stdout.decode(), done.stderr.decode()


def test_one_file_and_standard_input_give_the_same(tmp_path):
    file = tmp_path / "t2.json"
    file.write_text(json.dumps(TOOL))
    by_file, by_pipe = nonna("evaluate", file), nonna("evaluate", "-", stdin=json.dumps(TOOL).encode())
    assert by_file == by_pipe
    assert by_file[0] == 0
    assert json.loads(by_file[1]) == json.loads(json.dumps(evaluate(TOOL).to_document()))
    assert by_file[2] == ""


def test_bad_input_is_one_line_and_status_2(tmp_path, cli):
    (tmp_path / "half.json").write_text(json.dumps(SETTER)[:200])
    (tmp_path / "big.json").write_bytes(b" " * 60_000_000)
    (tmp_path / "latin.json").write_bytes(b'{"a": "\xe9"}')
    for name, code in (
        ("half.json", "not-json"),
        ("big.json", "too-large"),
        ("latin.json", "unreadable"),
        ("none.json", "unreadable"),
        (".", "unreadable"),
    ):
        status, out, err = cli("evaluate", tmp_path / name)
        assert (status, out[0]["error"]["code"]) == (2, code)
        assert err.count("\n") == 1
        assert err.startswith("nonna: ")
        assert "Traceback" not in err
    for arguments in (["evaluate"], ["evaluate", "a", "b"], ["melt"], ["ledger", "burn", "--shop", "x"], ["--what"]):
        status, out, err = cli(*arguments)
        assert (status, set(out[0]["error"])) == (2, {"code", "message", "where"})


def test_lines_in_lines_out_in_order():
    lines = [json.dumps(TOOL), "", "{", json.dumps(REPEAT), "   ", json.dumps(TOOL | {"x": 1})]
    status, out, _ = nonna("evaluate", "-", "--jsonl", stdin="\n".join(lines).encode())
    answers = [json.loads(line) for line in out.splitlines()]
    assert status == 1
    assert [a.get("procedure", a.get("error", {}).get("code")) for a in answers] == [
        "tool-length",
        "not-json",
        "repeatability",
        "unknown-field",
    ]
    assert nonna("evaluate", "-", "--jsonl", stdin=(json.dumps(TOOL) + "\r\n").encode() * 3)[0] == 0


def test_a_signed_record_can_be_listed_verified_exported_and_certified(tmp_path, cli):
    file, shop, copy = tmp_path / "s.json", tmp_path / "shop", tmp_path / "copy"
    file.write_text(json.dumps(SETTER))
    status, out, _ = cli("record", file, "--shop", shop, "--operator", "K. Amsel")
    assert (status, out[0]["record"], out[0]["verdict"]) == (0, 1, "pass")
    assert len(out[0]["hash"]) == 64
    file.write_text(json.dumps(TOOL))
    second = cli("record", file, "--shop", shop, "--operator", "J. Finch", "--subject", "T2", "--machine", "Larch")[1][
        0
    ]
    assert cli("ledger", "verify", "--shop", shop)[:2] == (
        0,
        [{"ok": True, "records": 2, "first_damaged": None, "reason": ""}],
    )
    listed = cli("ledger", "list", "--shop", shop)[1]
    assert [(r["record"], r["subject"]) for r in listed] == [(1, "Setter"), (2, "T2")]
    status, exported, _ = cli("ledger", "export", "--shop", shop)
    (tmp_path / "book.jsonl").write_text("\n".join(json.dumps(line) for line in exported))
    assert cli("ledger", "import", tmp_path / "book.jsonl", "--shop", copy)[1] == [{"imported": 2}]
    assert cli("ledger", "list", "--shop", copy)[1] == listed
    assert cli("ledger", "import", tmp_path / "book.jsonl", "--shop", copy)[1] == [{"imported": 0}]  # all are here
    cli("record", file, "--shop", tmp_path / "other", "--operator", "J. Finch")
    assert cli("ledger", "import", tmp_path / "book.jsonl", "--shop", tmp_path / "other")[0] == 2  # another chain
    for suffix, start in ((".pdf", b"%PDF"), (".xml", b"<?xml")):
        target = tmp_path / f"c{suffix}"
        assert cli("certificate", second["hash"][:8], "--shop", shop, "-o", target)[0] == 0
        assert target.read_bytes().startswith(start)
    for bad in (["9"], ["zz"], ["1", "-o", str(tmp_path / "c.doc")], ["1", "-o", str(tmp_path / "no" / "c.pdf")]):
        extra = [] if "-o" in bad else ["-o", str(tmp_path / "x.pdf")]
        assert cli("certificate", *bad, *extra, "--shop", shop)[0] == 2


def test_bad_readings_make_no_ledger(tmp_path, cli):
    file = tmp_path / "bad.json"
    file.write_text(json.dumps(TOOL | {"readings": []}))
    assert cli("record", file, "--shop", tmp_path / "shop", "--operator", "K. Amsel")[0] == 2
    assert not (tmp_path / "shop").exists()
    file.write_text(json.dumps(TOOL))
    assert cli("record", file, "--shop", tmp_path / "shop", "--operator", "  ")[0] == 2
    assert cli("ledger", "verify", "--shop", tmp_path / "shop")[0] == 2
    assert cli("record", file, "--shop", file, "--operator", "K. Amsel")[0] == 2


@pytest.mark.parametrize("name", [*PROCEDURES, "readings", "result", "machine", "nonna-tools/1", "masters", "shop"])
def test_schemas_are_published_and_name_every_field(name, capfd):
    run(["schema", name], lambda given: 99)
    schema = json.loads(capfd.readouterr().out)
    assert schema["$schema"].startswith("https://json-schema.org/")
    if name in PROCEDURES:
        assert schema["additionalProperties"] is False
        assert {"format", "procedure", "setup", "readings"} <= set(schema["required"])


def test_unknown_schemas_are_named(cli):
    status, out, _ = cli("schema", "nonsense")
    assert (status, out[0]["error"]["where"]) == (2, "name")
    assert "tool-length" in cli("schema")[1][0]["schemas"]


def test_the_command_line_never_imports_qt():
    code = (
        "import sys, nonna.cli.main, nonna.cli.evaluating, nonna.cli.ledgers, nonna.cli.schemas; print([m "
        "for m in sys.modules if 'PySide' in m])"
    )
    assert (
        subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.strip() == "[]"
    )
    assert import_module("nonna").__version__ in nonna("--version")[1]
    status, out, _ = nonna("--help")
    assert status == 0
    assert all(word in out for word in ("evaluate", "record", "schema", "ledger", "certificate", "--demo"))


def test_without_a_display_or_a_shop_the_desk_says_so(tmp_path, monkeypatch):
    from nonna.desk.start.app import open_desk
    from nonna.errors import NonnaError

    with pytest.raises(NonnaError, match=r"no shop in 'empty'"):
        open_desk(demo=False, shop=tmp_path / "empty", tour=None)
    for name in ("QT_QPA_PLATFORM", "DISPLAY", "WAYLAND_DISPLAY"):
        monkeypatch.delenv(name, raising=False)
    with pytest.raises(NonnaError, match="no display"):
        open_desk(demo=True, shop=None, tour=None)


def test_a_reader_that_leaves_early_is_no_reason_for_a_traceback():
    lines = (json.dumps(TOOL).encode() + b"\n") * 3000
    process = subprocess.Popen(
        [sys.executable, "-m", "nonna", "evaluate", "-", "--jsonl"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
    )
    process.stdout.close()
    _, err = process.communicate(lines)
    assert b"Traceback" not in err
    assert process.returncode == 1


def test_help_is_what_the_parser_says(capfd):
    from nonna.__main__ import HELP
    from nonna.cli.main import parser

    assert Path(HELP).read_text("utf-8") == parser().format_help()
    told = subprocess.run([sys.executable, "-m", "nonna", "--help"], capture_output=True, text=True, check=True)
    assert told.stdout == parser().format_help()
