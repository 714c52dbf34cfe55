"""The command that runs a program on a trace or on a floor."""

from __future__ import annotations

import argparse
import json
import sys

from geduld.cli.files import library_beside, program_at, wordbooks, write
from geduld.cli.printing import DONE, LIMIT, place_told
from geduld.cli.worlds import world_of
from geduld.language.quantities import show
from geduld.readers.reading import good_program_in
from geduld.rig.reader import read_rig
from geduld.run.record.as_csv import channels_csv
from geduld.run.record.as_json import record_to_json
from geduld.run.runner import Runner

_HOW = {
    "finished": "finished",
    "stopped": "was stopped by hand",
    "idle": "went round for ever and did nothing more",
    "error": "broke off",
}


def run(options: argparse.Namespace) -> int:
    """Runs a program, writes what it did, and says how it ended."""
    options.program_name = options.program.name
    rig = read_rig(options.rig)
    data, language = program_at(options.program, options.begins)
    options.program_text = data
    library, words = library_beside(options.program, options.library), wordbooks(options.words, rig)
    runner = Runner(good_program_in(data, rig, language, library, words))
    world = world_of(options, rig)
    assert world is not None  # the parser asks for one
    record, _ = world.run(runner, data.decode("utf-8-sig"))
    if options.record:
        write(options.record, json.dumps(record_to_json(record)) + "\n")
    if options.channels:
        write(options.channels, channels_csv(record))
    if record.hit_limit:
        print(record.events[-1].text, file=sys.stderr)
        return LIMIT
    said = f' "{record.said}"' if record.said else ""
    what = _HOW.get(record.why, "was still running")
    for event in record.events:
        if event.kind == "error":
            place = place_told(data, options.program.name, event.line)
            print(f"{place}: {event.text}", file=sys.stderr)
    ended, lasted = show(record.ended_at / 1e6, "s"), show(record.lasted / 1e6, "s")
    print(f"The program {what}{said} at {ended}; the run lasted {lasted}.")
    return DONE
