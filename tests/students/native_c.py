"""Runs a C program compiled by a real compiler, with stub words in virtual time: what Geduld's own reading is held against.

It shares no code with Geduld's reader. Loops are instrumented in the program's text, words are plain functions on a
virtual clock, and readings come from the recording's rows.
"""

import subprocess
import tempfile
from pathlib import Path

import numpy as np
import tree_sitter_cpp
from tree_sitter import Language, Parser

CHANNELS = ("range", "nose", "nose_left", "knob", "light", "soil", "radio")
OUTPUTS = {"left": (-100, 100), "right": (-100, 100), "valve": (0, 100), "lamp": (0, 100), "nozzle": (20, 160)}

HEADER = r"""
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <csignal>
#include <vector>
#define printf(...) 0
static std::vector<long long> times_; static std::vector<double> rows_[7];
static long long now_ = 0, end_ = 0, touched_ = 0, loop_ = 10000;
static void done_(const char *why) { std::fprintf(stdout, "why %s 0\n", why); std::fflush(stdout); std::_Exit(0); }
struct Hook_ { int column; void (*handler)(); long long since; bool pending; };
static Hook_ hooks_[2] = {{1, 0, 0, false}, {2, 0, 0, false}};
static std::vector<Hook_ *> pending_; static bool performing_ = false;
static Hook_ *edge_(long long until, long long &when) {
    Hook_ *found = 0;
    for (auto &h : hooks_) {
        if (!h.handler) continue;
        for (size_t i = 1; i < times_.size() && times_[i] <= until; i++)
            if (times_[i] > h.since && rows_[h.column][i - 1] == 0 && rows_[h.column][i] == 1) {
                if (!found || times_[i] < when) { found = &h; when = times_[i]; }
                break;
            }
    }
    return found;
}
static void go_(long long ticks) {
    long long target = now_ + (ticks > 0 ? ticks : 0), when = 0;
    while (Hook_ *h = edge_(target, when)) {
        if (when > now_) now_ = when;
        h->since = when;
        if (!h->pending) { h->pending = true; pending_.push_back(h); }
        while (!pending_.empty() && !performing_) {
            Hook_ *next = pending_[0];
            pending_.erase(pending_.begin());
            next->pending = false;
            performing_ = true; next->handler(); performing_ = false;
        }
        if (now_ > target) target = now_;
    }
    now_ = target;
    if (now_ > end_) done_("time");
}
static void when_pressed(const char *port, void (*handler)()) {
    Hook_ &h = hooks_[!std::strcmp(port, "D2")];
    h.handler = handler; h.since = now_; touched_++;
}
static bool until_called_() {
    long long when = 0;
    if (!hooks_[0].handler && !hooks_[1].handler) return false;
    if (performing_ || !edge_(end_, when)) done_("time");
    go_(when - now_);
    return true;
}
static double read_(int column) {
    touched_++;
    size_t low = 0, high = times_.size();
    while (low < high) { size_t mid = (low + high) / 2; if (times_[mid] <= now_) low = mid + 1; else high = mid; }
    return low == 0 || rows_[column].empty() ? NAN : rows_[column][low - 1];
}
static void put_(const char *name, double low, double high, double value) {
    touched_++;
    if (value < low) value = low;
    if (value > high) value = high;
    std::fprintf(stdout, "put %s %lld %a\n", name, now_, value);
}
static double there_(double v, double otherwise = 0) { return v != v ? otherwise : v; }
static void wheels(double l, double r) { put_("left", -100, 100, l); put_("right", -100, 100, r); }
static void halt() { wheels(0, 0); }
static void pause(double s) { touched_++; go_(llrint(s * 1000000)); }
static void rest(double ms) { touched_++; go_(llrint(ms / 1000 * 1000000)); }
static double gap() { go_(12000); return there_(read_(0), -1); }
static double echo() { return there_(read_(0) * 10); }
static bool touched() { return read_(1) == 1; }
static bool scraped() { return read_(2) == 1; }
static int dose() { return (int) std::nearbyint(there_(read_(3)) * 1023 / 100); }
static double bright() { return there_(read_(4)); }
static int dry() { return (int) (there_(read_(5)) * 255 / 100); }
static double seconds() { touched_++; return now_ / 1000000.0; }
static void spray(double v) { put_("valve", 0, 100, v * 100 / 255); }
static void aim(double a) { put_("nozzle", 20, 160, a); }
static void glow(double v) { put_("lamp", 0, 100, v * 100); }
static void call(const char *text) { touched_++; std::fprintf(stdout, "say %lld %s\n", now_, text); }
static const char *heard() {
    double code = read_(6);
    @TEXTS@
    return 0;
}
static const char *latest() { const char *text = heard(); return text ? text : ""; }
static const int GREEN = 2;
struct Motor {
    const char *part;
    Motor(const char *port) { part = !std::strcmp(port, "M1") ? "left" : !std::strcmp(port, "M2") ? "right" : "valve"; }
    void power(double level) { put_(part, part[0] == 'v' ? 0 : -100, 100, level); }
    void stop() { put_(part, -100, 100, 0); }
};
struct Turns_ {
    long long now, touched; int quiet;
    Turns_() : now(now_), touched(touched_), quiet(0) {}
    bool turn() {
        if (now == now_) {
            if (touched_ > touched) go_(loop_);
            else if (++quiet > 3000) { if (!until_called_()) done_("idle"); quiet = 0; }
        }
        now = now_; touched = touched_;
        return true;
    }
};
static void broke_(int) { done_("error"); }
static void load_(const char *path) {
    std::signal(SIGFPE, broke_);
    FILE *file = std::fopen(path, "rb");
    long long n; std::fread(&n, 8, 1, file); std::fread(&end_, 8, 1, file);
    times_.resize(n); std::fread(times_.data(), 8, n, file);
    for (int c = 0; c < 7; c++) { rows_[c].resize(n); std::fread(rows_[c].data(), 8, n, file); }
    std::fclose(file);
}
"""
MAIN = '\n#undef main\nint main(int count, char **given) { load_(given[1]); student_(); done_("finished"); }\n'


def instrumented(text):
    """The text with a count of the passes of every loop that is not counted."""
    source = text.encode()
    edits = []
    waiting = [Parser(Language(tree_sitter_cpp.language())).parse(source).root_node]
    while waiting:
        node = waiting.pop()
        waiting += node.children
        condition = node.child_by_field_name("condition")
        if node.type == "while_statement":
            edits.append((node.start_byte, node.start_byte + 5, b"for "))
            edits.append((condition.start_byte, condition.start_byte + 1, b"(Turns_ t_; t_.turn() && ("))
            edits.append((condition.end_byte - 1, condition.end_byte, b"); )"))
        elif node.type == "do_statement":
            edits.append((node.start_byte, node.start_byte, b"if (Turns_ t_; true) "))
            edits.append((condition.start_byte, condition.start_byte + 1, b"(t_.turn() && ("))
            edits.append((condition.end_byte - 1, condition.end_byte, b"))"))
        elif node.type == "for_statement":
            update = node.child_by_field_name("update")
            if condition is None or update is None:
                edits.append((node.start_byte, node.start_byte, b"if (Turns_ t_; true) "))
                if condition is not None:
                    edits.append((condition.start_byte, condition.start_byte, b"t_.turn() && ("))
                    edits.append((condition.end_byte, condition.end_byte, b")"))
                else:
                    second = [child for child in node.children if child.type == ";"][-1]
                    edits.append((second.start_byte, second.start_byte, b"t_.turn()"))
    for start, stop, new in sorted(edits, reverse=True):
        source = source[:start] + new + source[stop:]
    return source.decode()


FLAGS = ["-std=c++17", "-O0", "-fwrapv", "-fsigned-char", "-w", "-fpermissive"]


def prepare(texts, folder):
    """Compiles what all programs share, once: the words and the library's headers."""
    cases = "\n".join(f'if (code == {code!r}) return "{said}";' for code, said in texts.items())
    words = Path(folder, "words.h")
    words.write_text(HEADER.replace("@TEXTS@", cases))
    subprocess.run(["g++", *FLAGS, "-x", "c++-header", "-o", f"{words}.gch", str(words)], check=True)


def compiled(text, folder, name):
    """The program as an executable file."""
    body = instrumented(text).replace('#include "cart.h"', "")
    path = Path(folder) / f"{name}.cpp"
    path.write_text(f'#include "words.h"\n#define main student_\n{body}{MAIN}')
    subprocess.run(["g++", *FLAGS, "-o", str(path.with_suffix("")), str(path)], check=True, capture_output=True)
    return path.with_suffix("")


def write_trace(trace, path, end):
    """A recording as the program reads it."""
    count = len(trace.times)
    columns = [trace.channels.get(name, np.full(count, np.nan)) for name in CHANNELS]
    path.write_bytes(
        np.array([count, end], np.int64).tobytes()
        + trace.times.astype(np.int64).tobytes()
        + b"".join(np.ascontiguousarray(column, np.float64).tobytes() for column in columns)
    )


def run(executable, trace_file, rig):
    """What a compiled program did: its commands, what it sent, and how it ended."""
    found = subprocess.run([str(executable), str(trace_file)], capture_output=True, text=True, timeout=60)
    commands = {name: [(0, value)] for name, value in rig.at_rest}
    said, why = [], "died"
    for line in found.stdout.splitlines():
        what, first, second, *rest = line.split(" ", 3)
        if what == "put":
            entries, tick, value = commands[first], int(second), float.fromhex(rest[0])
            if entries[-1][0] == tick:
                entries.pop()
            if not entries or entries[-1][1] != value:
                entries.append((tick, value))
        elif what == "say":
            said.append((int(first), " ".join([second, *rest])))
        else:
            why = first
    return commands, said, why


def folder():
    """A folder for what is compiled, which goes when it is no longer held."""
    return tempfile.TemporaryDirectory()
