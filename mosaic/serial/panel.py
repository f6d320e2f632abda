"""A stand-in for a serial panel: it takes frames, keeps its memory, answers what it is asked, and tells touches."""

from collections import deque
from dataclasses import dataclass, field

from mosaic.errors import BadValueError
from mosaic.serial.frames import Fault, Message, Reader, encode
from mosaic.serial.line import byte_ms
from mosaic.serial.memory import unpacked
from mosaic.serial.plan import SerialPlan
from mosaic.values.value import Value

ADDRESSES = 0x10000
MOST_SAID = 30
MOST_READ = 250


@dataclass
class SerialPanel:
    """One panel.

    Attributes
    ----------
    memory : its bytes, two for each address that counts words. page, light, sounds : as they were told. line_ms : for how long
        the line was busy both ways, in virtual time. said : the last that came or was wrong, in words. changes : counts what
        can be seen.
    """

    plan: SerialPlan
    values: tuple[Value, ...]
    baud: int
    page: int = 0
    light: int = 100
    sounds: int = 0
    line_ms: float = 0.0
    changes: int = 0
    said: deque[str] = field(default_factory=lambda: deque(maxlen=MOST_SAID))

    def __post_init__(self) -> None:
        self.width = 2 if self.plan.memory.unit == "words" else 1
        self.memory = bytearray(self.width * ADDRESSES)
        self.written: set[int] = set()
        self.reader = Reader(self.plan.template)
        self.by_id = {value.id: value for value in self.values}

    def take(self, data: bytes) -> bytes:
        """Bytes that the program sends; gives those that the panel answers."""
        self._pass(len(data))
        answers = b""
        for one in self.reader.feed(data):
            if isinstance(one, Fault):
                self.say(f"byte {one.place:,}: {one.words}")
            else:
                answers += self._do(one)
        self._pass(len(answers))
        return answers

    def rest(self) -> None:
        """Nothing has come for a while: half a frame is none."""
        for one in self.reader.finish():
            if isinstance(one, Fault):
                self.say(f"byte {one.place:,}: {one.words}")
            else:
                self._do(one)

    def touch(self, event: int) -> bytes:
        """What the panel sends when somebody touches an area of an event."""
        frame = encode(Message("touch", 0, event.to_bytes(2, self.plan.template.byte_order)), self.plan.template)
        self._pass(len(frame))
        return frame

    def put(self, address: int, data: bytes) -> bytes:
        """A value is changed at the panel itself; what it sends then."""
        self._keep(address, data)
        frame = encode(Message("answer", address, data), self.plan.template)
        self._pass(len(frame))
        return frame

    def readings(self) -> dict[str, int | str]:
        """What the values of the map are by the memory; those that were never written are missing."""
        found: dict[str, int | str] = {}
        for entry in self.plan.memory.entries:
            value = self.by_id.get(entry.value)
            at = entry.start * self.width
            if value is None or entry.start not in self.written or at + entry.size > len(self.memory):
                continue
            found[entry.value] = unpacked(
                entry, value, bytes(self.memory[at : at + entry.size]), self.plan.memory, self.plan.template.order
            )
        return found

    def _pass(self, count: int) -> None:
        self.line_ms += count * byte_ms(self.baud, parity=self.plan.parity)

    def say(self, words: str) -> None:
        self.said.append(words)
        self.changes += 1

    def _keep(self, address: int, data: bytes) -> None:
        at = address * self.width
        if at + len(data) > len(self.memory):
            raise BadValueError(f"address {address:04X}h and {len(data)} bytes lie beyond the panel's memory")
        self.memory[at : at + len(data)] = data
        end = address + -(-len(data) // self.width)
        self.written |= {entry.start for entry in self.plan.memory.entries if address <= entry.start < end}
        self.changes += 1

    def _do(self, message: Message) -> bytes:
        """What a message brings about; what is answered."""
        number = int.from_bytes(message.data[:2], self.plan.template.byte_order)
        try:
            if message.act in ("write", "answer"):
                self._keep(message.address, message.data)
                if not self.plan.memory.at(message.address):
                    self.say(f"nothing has the address {message.address:04X}h")
            elif message.act == "read":
                return self._answer(message)
            elif message.act == "page":
                self.page, self.changes = number, self.changes + 1
            elif message.act == "light":
                self.light, self.changes = number, self.changes + 1
            elif message.act == "sound":
                self.sounds, self.changes = self.sounds + 1, self.changes + 1
        except BadValueError as error:
            self.say(str(error))
        return b""

    def _answer(self, message: Message) -> bytes:
        count = message.data[0] if message.data else 2
        at = message.address * self.width
        if not 1 <= count <= MOST_READ or at + count > len(self.memory):
            raise BadValueError(f"{count} bytes from {message.address:04X}h cannot be read")
        return encode(Message("answer", message.address, bytes(self.memory[at : at + count])), self.plan.template)
