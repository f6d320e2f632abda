# Frames on a serial line, by the rules of docs/serial.md. Plain Python: no classes, no other modules.
# A template and entries are dicts and tuples that are written for a build; a reader is a dict: see begin().

ACTS = ("write", "read", "answer", "page", "light", "sound", "touch")
ADDRESSED = ("write", "read", "answer")
FAULTS = ("garbage", "length", "check", "code", "escape", "short", "field", "long", "cut")
MOST_DATA = 250
MOST_FRAME = 2 * (MOST_DATA + 16)
MOST_LINE = 3 * MOST_DATA
CHECK_SIZES = {"none": 0, "sum": 1, "xor": 1, "crc8": 1, "crc16": 2}


def check_of(t, data):
    """The check of some bytes, as it stands in a frame."""
    kind = t["check"]
    size = CHECK_SIZES[kind]
    value = 0
    if kind == "sum":
        value = sum(data) & 255
    elif kind == "xor":
        for byte in data:
            value ^= byte
    elif size:
        bits = 8 * size
        mask, top, value = (1 << bits) - 1, 1 << (bits - 1), t["start"]
        for byte in data:
            value ^= byte if t["reflected"] else byte << (bits - 8)
            for _ in range(8):
                if t["reflected"]:
                    value = value >> 1 ^ (t["polynomial"] if value & 1 else 0)
                else:
                    value = value << 1 & mask ^ (t["polynomial"] if value & top else 0)
        value = (value ^ t["final"]) & mask
    return value.to_bytes(size, "big" if t["check_big"] else "little") if size else b""


def order(t):
    return "big" if t["big"] else "little"


def escaped(t):
    return (t["escape"], *t["tail"], *t["head"]) if t["escape"] >= 0 else ()


def frame(t, act, address=0, data=b""):
    """The frame of a message; nothing where the panel has no such frame."""
    data = bytes(data)
    if t["framing"] == "text":
        parts = [t["words"][ACTS.index(act)]]
        parts += [str(address)] if act in ADDRESSED else []
        parts += [data.hex().upper()] if data else []
        line = t["between"].join(parts)
        check = check_of(t, line.encode())
        return (line + ("*" + check.hex().upper() if check else "") + "\n").encode()
    code = t["codes"][ACTS.index(act)]
    if code < 0:
        return b""
    inner = bytes([code]) + (address.to_bytes(t["address_bytes"], order(t)) if act in ADDRESSED else b"") + data
    size = CHECK_SIZES[t["check"]]
    if t["framing"] == "length":
        length = {
            "what follows": len(inner) + size, "what follows without the check": len(inner), "the payload": len(data),
            "the whole frame": len(t["head"]) + t["length_bytes"] + len(inner) + size,
        }[t["counts"]]  # fmt: skip
        inner = length.to_bytes(t["length_bytes"], order(t)) + inner
    inner += check_of(t, (t["head"] if t["from_header"] else b"") + inner)
    if t["framing"] == "length":
        return t["head"] + inner
    found = bytearray(t["head"])
    for byte in inner:
        found += bytes([t["escape"], byte ^ t["escape_xor"]]) if byte in escaped(t) else bytes([byte])
    return bytes(found) + t["tail"]


# An entry is (address, kind, bytes of a text, number of a bit, whether the high word stands first).


def number(t, entry, value):
    """The frame that writes a number, as it is sent, with the decimals of its entry."""
    address, kind, _, bit, high = entry
    if kind == "bit":
        data = (int(bool(value)) << bit).to_bytes(2, order(t))
    elif kind in ("u32", "s32"):
        value &= 0xFFFFFFFF
        words = (value >> 16, value & 65535) if high else (value & 65535, value >> 16)
        data = b"".join(word.to_bytes(2, order(t)) for word in words)
    else:
        data = (value & 65535).to_bytes(2, order(t))
    return frame(t, "write", address, data)


def text(t, entry, words):
    """The frame that writes a text; not half a character stands at its end."""
    address, _, size, _, _ = entry
    data = words.encode()
    count = min(len(data), size)
    while count and count < len(data) and data[count] & 0xC0 == 0x80:
        count -= 1
    return frame(t, "write", address, data[:count] + bytes(size + size % 2 - count))


def small(t, act, value):
    """Page and event numbers, light and sound."""
    return frame(t, act, 0, value.to_bytes(2 if act in ("page", "touch") else 1, order(t)))


def read(t, entry):
    """The frame that asks for a value."""
    address, kind, size, _, _ = entry
    return frame(t, "read", address, bytes([size + size % 2 if kind == "text" else 4 if kind in ("u32", "s32") else 2]))


def value(t, entry, data):
    """The number, or the text, in a payload."""
    _, kind, _, bit, high = entry
    if kind == "text":
        return bytes(data).rstrip(b"\0").decode("utf-8", "replace")
    first = int.from_bytes(data[:2], order(t))
    if kind == "bit":
        return first >> bit & 1
    if kind in ("u32", "s32"):
        second = int.from_bytes(data[2:4], order(t))
        found = first << 16 | second if high else second << 16 | first
        return found - (1 << 32) if kind == "s32" and found >> 31 else found
    return first - 65536 if kind == "s16" and first >> 15 else first


def begin(t):
    """A reader: what waits, how many frames were taken, bytes that belong to none, faults by kind."""
    return {"t": t, "rest": bytearray(), "frames": 0, "skipped": 0, "faults": dict.fromkeys(FAULTS, 0), "lost": False}


def take(r, data):
    """Some bytes more; gives the messages (act, address, payload) that are whole now."""
    r["rest"] += data
    step = {"length": by_length, "terminator": by_terminator, "text": as_text}[r["t"]["framing"]]
    found = [one for one in iter(lambda: step(r), None) if one is not True]
    r["frames"] += len(found)
    return found


def rest(r):
    """Nothing has come for a while: what waits is no whole frame; gives messages that were inside of it."""
    found = []
    while r["rest"]:
        lose(r, 1 if r["t"]["framing"] == "length" else len(r["rest"]), "cut")
        found += take(r, b"")
    return found


def lose(r, count, fault):
    r["faults"][fault] += 1
    r["skipped"] += count
    del r["rest"][:count]
    return True


def inner(r, data):
    """Code, address and payload, or a fault."""
    t = r["t"]
    if data[0] not in t["codes"]:
        return "code"
    act = ACTS[t["codes"].index(data[0])]
    if act not in ADDRESSED:
        return (act, 0, bytes(data[1:])) if len(data) - 1 <= MOST_DATA else "long"
    size = 1 + t["address_bytes"]
    if len(data) < size:
        return "short"
    return (act, int.from_bytes(data[1:size], order(t)), bytes(data[size:])) if len(data) - size <= MOST_DATA else "long"


def ended(r, found, count):
    if isinstance(found, str):
        return lose(r, count, found)
    del r["rest"][:count]
    return found


def by_length(r):
    t, waits = r["t"], r["rest"]
    head = t["head"]
    if waits and not head.startswith(bytes(waits[: len(head)])):
        r["faults"]["garbage"] += not r["lost"]
        r["lost"] = True
        r["skipped"] += 1
        del waits[:1]
        return True
    before = len(head) + t["length_bytes"]
    if len(waits) < before + (t["counts"] == "the payload"):
        return None
    size, length = CHECK_SIZES[t["check"]], int.from_bytes(waits[len(head) : before], order(t))
    if t["counts"] == "the whole frame":
        total = length
    elif t["counts"] == "the payload":
        code = waits[before]
        act = ACTS[t["codes"].index(code)] if code in t["codes"] else ""
        total = before + 1 + (t["address_bytes"] if act in ADDRESSED else 0) + length + size
    else:
        total = before + length + (size if t["counts"] == "what follows without the check" else 0)
    if not before + 1 + size <= total <= MOST_FRAME:
        return lose(r, 1, "length")
    if len(waits) < total:
        return None
    end = total - size
    if check_of(t, waits[0 if t["from_header"] else len(head) : end]) != bytes(waits[end:total]):
        return lose(r, 1, "check")
    r["lost"] = False
    return ended(r, inner(r, waits[before:end]), total)


def by_terminator(r):
    t, waits = r["t"], r["rest"]
    at = waits.find(t["tail"], 0, MOST_FRAME + 1)
    if at < 0:
        return lose(r, MOST_FRAME + 2 - len(t["tail"]), "long") if len(waits) > MOST_FRAME else None
    start = waits.rfind(t["head"], 0, at) if t["head"] else 0
    if start > 0:
        return lose(r, start, "garbage")
    return ended(r, plain_frame(r, bytes(waits[:at])), at + len(t["tail"]))


def plain_frame(r, raw):
    t = r["t"]
    if not raw.startswith(t["head"]):
        return "garbage"
    plain, data = bytearray(), iter(raw[len(t["head"]) :])
    for byte in data:
        if byte == t["escape"]:
            byte = next(data, None)
            if byte is None or byte ^ t["escape_xor"] not in escaped(t):
                return "escape"
            byte ^= t["escape_xor"]
        plain.append(byte)
    end = len(plain) - CHECK_SIZES[t["check"]]
    if end < 1:
        return "short"
    if check_of(t, (t["head"] if t["from_header"] else b"") + plain[:end]) != bytes(plain[end:]):
        return "check"
    return inner(r, plain[:end])


def as_text(r):
    waits = r["rest"]
    at = waits.find(b"\n", 0, MOST_LINE + 1)
    if at < 0:
        return lose(r, MOST_LINE + 1, "long") if len(waits) > MOST_LINE else None
    return ended(r, said(r["t"], bytes(waits[:at]).rstrip(b"\r")), at + 1)


def said(t, line):
    if any(byte > 127 for byte in line):
        return "garbage"
    words = line.decode()
    if CHECK_SIZES[t["check"]]:
        words, star, check = words.rpartition("*")
        if not star or check != check_of(t, words.encode()).hex().upper():
            return "check"
    word, *fields = words.split(t["between"])
    if word not in t["words"]:
        return "code"
    act, address = ACTS[t["words"].index(word)], 0
    if act in ADDRESSED:
        if not fields or not fields[0].isdigit() or len(fields[0]) > 5 or int(fields[0]) > 65535:
            return "field"
        address = int(fields.pop(0))
    data = fields[0] if fields else ""
    if len(fields) > 1 or len(data) % 2 or len(data) > 2 * MOST_DATA or any(c not in "0123456789ABCDEF" for c in data):
        return "field"
    return act, address, bytes.fromhex(data)
