"""Map and template as code: what the runtimes `mosaic/firmware/line.c` and `line.py` are given for a build."""

import re
from collections.abc import Sequence

from mosaic.errors import BadValueError
from mosaic.serial.memory import Entry, MemoryMap, sent_number
from mosaic.serial.plan import SerialPlan
from mosaic.serial.template import ACTS, Template
from mosaic.source_text import distinct, identifier
from mosaic.values.value import Value

FRAMINGS = {"length": "LINE_BY_LENGTH", "terminator": "LINE_BY_TERMINATOR", "text": "LINE_AS_TEXT"}
COUNTS = {
    "what follows": "LINE_FOLLOWS", "what follows without the check": "LINE_UNCHECKED", "the whole frame": "LINE_WHOLE",
    "the payload": "LINE_PAYLOAD",
}  # fmt: skip
CHECKS = {"none": "LINE_NO_CHECK", "sum": "LINE_SUM", "xor": "LINE_XOR", "crc8": "LINE_CRC8", "crc16": "LINE_CRC16"}
KINDS = {"u16": "LINE_U16", "s16": "LINE_S16", "u32": "LINE_U32", "s32": "LINE_S32", "text": "LINE_TEXT", "bit": "LINE_BIT"}


def names_of(known: MemoryMap, values: Sequence[Value]) -> dict[str, str]:
    """What each value of the map is called in code, by its id."""
    by_id = {value.id: value.name for value in values}
    placed = [entry.value for entry in known.entries if entry.value in by_id]
    names = distinct([identifier(by_id[one], "value") for one in placed])
    return dict(zip(placed, names, strict=True))


def _bytes(data: bytes) -> str:
    return "{" + ", ".join(f"0x{byte:02X}" for byte in data.ljust(4, b"\0")) + "}"


def c_template(template: Template, name: str = "panel") -> str:
    """The template as a table of C."""
    check = template.check
    words = template.words.split() if template.framing == "text" else [""] * len(ACTS)
    codes = ", ".join(str(template.codes.of(act)) for act in ACTS)
    told = ", ".join(f'"{word}"' for word in words)
    return f"""static const line_template {name}_template = {{
    {FRAMINGS[template.framing]}, {COUNTS[template.counts]}, {template.length_bytes}, {template.address_bytes}, {int(template.order == "high first")}, {len(template.head)}, {len(template.tail)},
    {_bytes(template.head)}, {_bytes(template.tail)}, {{{codes}}}, {template.escape},
    0x{template.escape_xor:02X}, {CHECKS[check.kind]}, {int(check.reflected)}, {int(check.order == "high first")}, {int(check.from_header)}, 0x{check.polynomial:04X}, 0x{check.start:04X}, 0x{check.final:04X},
    "{template.between}", {{{told}}}
}};"""  # noqa: E501


def c_entry(entry: Entry, known: MemoryMap) -> str:
    """An entry as a table of C."""
    size = entry.bytes if entry.kind == "text" else entry.size
    return f"{{0x{entry.start:04X}, {KINDS[entry.kind]}, {size}, {entry.bit}, {int(known.words == 'high first')}}}"


Events = Sequence[tuple[str, int]]
"""Events that touches tell, by name, with their codes."""


def event_names(events: Events) -> list[tuple[str, int]]:
    """What each event is called in code, in capitals, with its code."""
    names = distinct([f"EVENT_{identifier(name, 'event').upper()}" for name, _ in events])
    return list(zip(names, [code for _, code in events], strict=True))


def c_map(plan: SerialPlan, values: Sequence[Value], events: Events = (), name: str = "panel") -> str:
    """A header with the template, the entries, how their numbers are to be read, and the codes of events."""
    names, by_id = names_of(plan.memory, values), {value.id: value for value in values}
    lines = []
    for entry in plan.memory.entries:
        if entry.value in names:
            value = by_id[entry.value]
            said = f"{entry.kind}, {entry.direction}"
            said += f", {entry.decimals} decimals" if entry.decimals else ""
            said += f", times {entry.scale}" if entry.scale > 1 else ""
            lines.append(f"/* {value.name}: {said} */")
            lines.append(f"static const line_entry {name}_{names[entry.value]} = {c_entry(entry, plan.memory)};")
    codes = ", ".join(f"{one} = {code}" for one, code in event_names(events))
    lines += [f"/* What touches tell. */\nenum {{ {codes} }};"] if codes else []
    body = "\n".join(lines)
    return f"""/* Generated: a serial panel's memory, and the template of its frames. Addresses count {plan.memory.unit}.
   Needs line.h and line.c, which come along. */
#ifndef {name.upper()}_MAP_H
#define {name.upper()}_MAP_H

#include "line.h"

{c_template(plan.template, name)}

{body}

#endif
"""


def python_template(template: Template) -> str:
    """The template as a dict of Python."""
    check = template.check
    return f"""TEMPLATE = {{
    "framing": "{template.framing}", "counts": "{template.counts}", "length_bytes": {template.length_bytes},
    "address_bytes": {template.address_bytes}, "big": {template.order == "high first"}, "head": {template.head!r},
    "tail": {template.tail!r}, "codes": {tuple(template.codes.of(act) for act in ACTS)!r}, "escape": {template.escape},
    "escape_xor": {template.escape_xor}, "check": "{check.kind}", "reflected": {check.reflected},
    "check_big": {check.order == "high first"}, "from_header": {check.from_header}, "polynomial": {check.polynomial},
    "start": {check.start}, "final": {check.final}, "between": {template.between!r}, "words": {tuple(template.words.split())!r},
}}"""


def python_map(plan: SerialPlan, values: Sequence[Value], events: Events = ()) -> str:
    """A module with the template, the entries (address, kind, bytes of a text, bit, whether the high word stands first), and the
    codes of events."""
    names, by_id = names_of(plan.memory, values), {value.id: value for value in values}
    lines = []
    for entry in plan.memory.entries:
        if entry.value in names:
            size = entry.bytes if entry.kind == "text" else entry.size
            told = (entry.start, entry.kind, size, entry.bit, plan.memory.words == "high first")
            said = f"{by_id[entry.value].name}, {entry.direction}" + (f", {entry.decimals} decimals" if entry.decimals else "")
            said += f", times {entry.scale}" if entry.scale > 1 else ""
            lines.append(f"{names[entry.value].upper()} = {told!r}  # {said}")
    lines += [f"{one} = {code}" for one, code in event_names(events)]
    body = "\n".join(lines)
    return f"""# Generated: the map of a serial panel's memory and the template of its frames. Addresses count {plan.memory.unit}.
# Needs line.py, which comes along.

{python_template(plan.template)}

{body}
"""


_ENTRY = re.compile(r"static const line_entry [^_\s]+_(\w+) = \{0x([0-9A-F]{4}), (LINE_\w+), (\d+), (\d+), ([01])\};")


def check_c_map(text: str, plan: SerialPlan, values: Sequence[Value]) -> None:
    """Read a header back, and compare it with what it was made of.

    Raises
    ------
    BadValueError
        An entry is missing, or is not what it should be.
    """
    names = {name: ident for ident, name in names_of(plan.memory, values).items()}
    read = {}
    for name, start, kind, size, bit, high in _ENTRY.findall(text):
        read[names.get(name, name)] = (int(start, 16), kind, int(size), int(bit), bool(int(high)))
    high_first = plan.memory.words == "high first"
    meant = {
        entry.value: (entry.start, KINDS[entry.kind], entry.bytes if entry.kind == "text" else entry.size, entry.bit, high_first)
        for entry in plan.memory.entries if entry.value in names.values()
    }  # fmt: skip
    if read != meant:
        wrong = next(ident for ident in {**meant, **read} if read.get(ident) != meant.get(ident))
        raise BadValueError(f"the map does not read back: {wrong} stands otherwise than it should; nothing was written")


C_SENDER = """/* Sends each value of the map again and again, and prints the touches that come. For a PC with POSIX:
   to the stand-in on port {port}, or to a serial port or pseudo terminal whose path is given.
   On a board, line.c stays; open_line and put are yours.

       cc -std=c99 panel_sender.c line.c -o panel_sender && ./panel_sender [PATH] */
#define _POSIX_C_SOURCE 200809L
#include <arpa/inet.h>
#include <fcntl.h>
#include <poll.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <termios.h>
#include <time.h>
#include <unistd.h>

#include "panel_map.h"

#define PORT {port}
#define TOKEN "{token}"

static int open_line(const char *path) {{
    if (path) {{
        const int fd = open(path, O_RDWR | O_NOCTTY);
        struct termios raw;
        if (fd < 0 || tcgetattr(fd, &raw)) return -1;
        raw.c_iflag = raw.c_oflag = raw.c_lflag = 0;
        raw.c_cflag = (raw.c_cflag & ~(tcflag_t)(CSIZE | PARENB)) | CS8 | CREAD | CLOCAL;
        return tcsetattr(fd, TCSANOW, &raw) ? -1 : fd;
    }}
    const int fd = socket(AF_INET, SOCK_STREAM, 0);
    struct sockaddr_in to;
    memset(&to, 0, sizeof to);
    to.sin_family = AF_INET;
    to.sin_port = htons(PORT);
    to.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    char answer = 0;
    if (fd < 0 || connect(fd, (struct sockaddr *)&to, sizeof to)) return -1;
    if (write(fd, "serial " TOKEN "\\n", sizeof TOKEN + 7) < 0 || read(fd, &answer, 1) != 1) return -1;
    if (answer != 'o') {{ fprintf(stderr, "refused: another program is on the line, or the token is old\\n"); return -1; }}
    while (read(fd, &answer, 1) == 1 && answer != '\\n') {{ }}
    return fd;
}}

static void put(int fd, const uint8_t *data, int32_t size) {{
    while (size > 0) {{
        const ssize_t sent = write(fd, data, (size_t)size);
        if (sent <= 0) {{ perror("write"); exit(1); }}
        data += sent;
        size -= (int32_t)sent;
    }}
}}

int main(int argc, char **argv) {{
    const int fd = open_line(argc > 1 ? argv[1] : 0);
    if (fd < 0) {{ perror("line"); return 1; }}
    static line_reader reader;
    uint8_t frame[LINE_ROOM], byte;
    line_begin(&reader, &panel_template);
    put(fd, frame, line_small(&panel_template, LINE_PAGE, 0, frame));
    for (int32_t tick = 0;; tick++) {{
{sends}
        struct pollfd waiting = {{fd, POLLIN, 0}};
        while (poll(&waiting, 1, 200) > 0 && read(fd, &byte, 1) == 1) {{
            for (int32_t more = line_take(&reader, byte); more; more = line_next(&reader)) {{
                const line_message *m = &reader.message;
                if (m->act == LINE_TOUCH && m->size >= 2)
                    printf("touch %u\\n", panel_template.big ? m->data[0] * 256u + m->data[1] : m->data[1] * 256u + m->data[0]);
                else printf("frame %u, address %04X, %u bytes\\n", m->act, m->address, m->size);
                fflush(stdout);
            }}
        }}
    }}
}}
"""

PYTHON_SENDER = """# Sends each value of the map again and again, and prints the touches that come: to the stand-in on
# port {port}, or to a serial port or pseudo terminal whose path is given. Python's standard library only; line.py and
# panel_map.py lie beside it.
#
#     python panel_sender.py [PATH]

import os
import select
import socket
import sys

import line
from panel_map import *

PORT, TOKEN = {port}, "{token}"


def open_line(path):
    if path:
        import tty

        descriptor = os.open(path, os.O_RDWR | os.O_NOCTTY)
        tty.setraw(descriptor)
        return descriptor
    connection = socket.create_connection(("127.0.0.1", PORT))
    connection.sendall(f"serial {{TOKEN}}\\n".encode())
    answer = b""
    while not answer.endswith(b"\\n"):
        answer += connection.recv(1)
    if answer != b"ok\\n":
        sys.exit(answer.decode())
    return connection.detach()


def put(descriptor, data):
    while data:
        data = data[os.write(descriptor, data) :]


def main():
    descriptor = open_line(sys.argv[1] if len(sys.argv) > 1 else "")
    reader = line.begin(TEMPLATE)
    put(descriptor, line.small(TEMPLATE, "page", 0))
    tick = 0
    while True:
{sends}
        tick += 1
        while select.select([descriptor], [], [], 0.2)[0]:
            for act, address, data in line.take(reader, os.read(descriptor, 4096)):
                if act == "touch":
                    print("touch", int.from_bytes(data, line.order(TEMPLATE)), flush=True)
                else:
                    print(act, hex(address), data.hex(), flush=True)


main()
"""


def _plain(words: str) -> str:
    """Words as they can stand between quotes in any program: letters, digits and blanks."""
    return re.sub("[^A-Za-z0-9 ]", "", words)


def _walk(entry: Entry, value: Value) -> tuple[int, int]:
    """(first, count) of the numbers that a sender goes through, as they are sent."""
    first, last = sent_number(entry, value, value.bounds[0]), sent_number(entry, value, value.bounds[1])
    return max(first, -(2**31)), min(max(1, abs(last - first) + 1), 1_000_000)


def c_sender(plan: SerialPlan, values: Sequence[Value], port: int, token: str) -> str:
    """A program for a PC that sends what the map holds and prints touches."""
    names, by_id, sends = names_of(plan.memory, values), {value.id: value for value in values}, []
    for entry in plan.memory.entries:
        if entry.value in names and entry.direction != "from the panel":
            at = f"&panel_template, &panel_{names[entry.value]}"
            if entry.kind == "text":
                sends.append(
                    f'        put(fd, frame, line_text({at}, "{identifier(by_id[entry.value].name)[: entry.bytes]}", frame));'
                )
            else:
                first, count = _walk(entry, by_id[entry.value])
                sends.append(f"        put(fd, frame, line_number({at}, {first} + tick % {count}, frame));")
    return C_SENDER.format(port=port, token=token, sends="\n".join(sends))


def python_sender(plan: SerialPlan, values: Sequence[Value], port: int, token: str) -> str:
    """The same in Python, with its standard library."""
    names, by_id, sends = names_of(plan.memory, values), {value.id: value for value in values}, []
    for entry in plan.memory.entries:
        if entry.value in names and entry.direction != "from the panel":
            at = f"TEMPLATE, {names[entry.value].upper()}"
            if entry.kind == "text":
                words = _plain(by_id[entry.value].name)[: entry.bytes]
                sends.append(f'        put(descriptor, line.text({at}, "{words}"))')
            else:
                first, count = _walk(entry, by_id[entry.value])
                sends.append(f"        put(descriptor, line.number({at}, {first} + tick % {count}))")
    return PYTHON_SENDER.format(port=port, token=token, sends="\n".join(sends) or "        pass")
