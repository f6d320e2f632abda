"""How constant tables are kept and read in C: one way for every file, set per board."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

Macro = Annotated[str, Meta(pattern=r"^([A-Za-z_]\w*)?$", max_length=60, description="a name of C, or nothing")]
Header = Annotated[str, Meta(pattern=r"^[\w./-]*$", max_length=80, description="a header such as tables/flash.h")]


@dataclass(frozen=True)
class TableStyle:
    """What a board's compiler asks of constants that are to stay in flash; all empty where `const` is enough.

    Attributes
    ----------
    stored : the qualifier that keeps a table in flash
    read : the function or macro that reads a byte of it, given its address
    include : the header that defines both
    """

    stored: Macro = ""
    read: Macro = ""
    include: Header = ""
    form: Literal[1] = 1

    def preamble(self) -> str:
        """Lines of C, the same in every file: `TABLE_STORED` stands behind a table's name, `TABLE_READ` reads a byte of one."""
        include = f"#include <{self.include}>\n" if self.include else ""
        read = f"{self.read}(address)" if self.read else "(*(const uint8_t *)(address))"
        return (
            f"#include <stdint.h>\n{include}\n#ifndef TABLE_STORED\n#define TABLE_STORED {self.stored}".rstrip(" ") + "\n#endif\n"
            f"#ifndef TABLE_READ\n#define TABLE_READ(address) {read}\n#endif\n"
        )


PLAIN = TableStyle()


def entry_reader(kind: str, name: str, table: str) -> str:
    """A C function that copies one entry of a table of structures out of wherever it is kept."""
    return (
        f"static inline {kind} {name}(uint32_t number)\n{{\n    {kind} entry;\n"
        f"    const uint8_t *from = (const uint8_t *)&{table}[number];\n    uint8_t *to = (uint8_t *)&entry;\n"
        "    for (uint32_t i = 0; i < (uint32_t)sizeof entry; i++) to[i] = TABLE_READ(from + i);\n    return entry;\n}\n"
    )
