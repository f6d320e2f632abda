"""Words of a maker's own in generated source: identifiers that C, C++ and Python take, comments that stay comments."""

import keyword
import re
import unicodedata
from collections.abc import Iterable

_C_AND_CPP = """
alignas alignof and and_eq asm atomic_cancel atomic_commit atomic_noexcept auto bitand bitor bool break case catch char
char8_t char16_t char32_t class co_await co_return co_yield compl concept const const_cast consteval constexpr constinit
continue decltype default delete do double dynamic_cast else enum explicit export extern false float for friend goto if
import inline int long module mutable namespace new noexcept not not_eq nullptr operator or or_eq private protected public
reflexpr register reinterpret_cast requires restrict return short signed sizeof static static_assert static_cast struct
switch synchronized template this thread_local throw true try typedef typeid typename typeof union unsigned using virtual
void volatile wchar_t while xor xor_eq
"""
# What headers that a program includes anyway define: C99, 7.2 to 7.24, and a few that hosted systems add.
_LIBRARY = """
abort abs acos acosh asctime asin asinh assert atan atan2 atanh atexit atof atoi atol atoll bcmp bcopy bsearch bzero calloc
cbrt ceil clearerr clock close complex copysign cos cosh ctime delay difftime div environ erf erfc errno exit exp exp2 expm1
fabs fclose fdim feof ferror ffs fflush fgetc fgetpos fgets file floor fma fmax fmin fmod fopen fork fprintf fputc fputs
fread free freopen frexp fscanf fseek fsetpos ftell fwrite gamma getc getchar getenv gets gmtime hypot ilogb imag index
isalnum isalpha isblank iscntrl isdigit isgraph islower isnan isprint ispunct isspace isupper isxdigit j0 j1 jn labs ldexp
ldiv lgamma link llabs lldiv llrint localeconv localtime log log10 log1p log2 logb longjmp lrint lround loop main malloc max
mblen memchr memcmp memcpy memmove memset min mktime modf nan nearbyint nextafter null offsetof open pause perror pipe pow
printf putc putchar puts qsort raise rand random read real realloc remainder remove remquo rename rewind rindex rint round
scalbn scanf select setbuf setjmp setlocale setup setvbuf signal sin sinh sleep snprintf socket sprintf sqrt srand sscanf
stat std stderr stdin stdout strcat strchr strcmp strcoll strcpy strcspn strerror strftime strlen strncat strncmp strncpy
strpbrk strrchr strspn strstr strtod strtof strtok strtol strtoul strxfrm sync system tan tanh tgamma time tmpfile tmpnam
tolower toupper trunc ungetc unlink va_arg va_copy va_end va_list va_start vfprintf vprintf vsnprintf vsprintf wait write y0
y1 yn linux unix i386
"""
_PYTHON = "array bytes bytearray dict False int len list machine None object range self set str sys True tuple type"
_RESERVED = frozenset((*_C_AND_CPP.split(), *_LIBRARY.split(), *_PYTHON.lower().split(), *keyword.kwlist, *keyword.softkwlist))
# Types of stdint.h and limits.h, and names whose NAME_WIDTH, NAME_MAX or NAME_MIN those headers define.
_TYPES = re.compile(
    r"u?int(_least|_fast)?\d*(_t|_c|_max|_min|_width)?|u?int(ptr|max)(_t|_c)?|[a-z]\w*_t|(s|u)?char|u?l?long|u?shrt|ptrdiff|size|ssize"
    r"|sig_atomic|wchar|wint|bool"
)


# Letters that have no plain one among their parts.
_SPELT = str.maketrans({"ß": "ss", "æ": "ae", "œ": "oe", "ø": "o", "ł": "l", "đ": "d", "ð": "d", "þ": "th", "ı": "i"})


def identifier(name: str, noun: str = "picture") -> str:
    """An identifier of C, C++ and Python made of any name; `noun` makes one of a name that cannot be one itself.

    >>> identifier("Slip at dusk, 2nd.png")
    'slip_at_dusk_2nd_png'
    >>> identifier("Größe"), identifier("Smørebrød Æ")
    ('grosse', 'smorebrod_ae')
    >>> identifier("Café"), identifier("7 boats"), identifier(""), identifier("new"), identifier("uint8_t", "strip")
    ('cafe', 'picture_7_boats', 'picture', 'new_picture', 'uint8_t_strip')
    """
    plain = "".join(c for c in unicodedata.normalize("NFKD", name.lower().translate(_SPELT)) if not unicodedata.combining(c))
    word = re.sub(r"[^a-z0-9]+", "_", plain).strip("_") or noun
    word = f"{noun}_{word}" if word[0].isdigit() else word
    return f"{word}_{noun}" if word in _RESERVED or _TYPES.fullmatch(word) else word


def distinct(names: Iterable[str], taken: Iterable[str] = ()) -> list[str]:
    """The names, each that stands there already with a number behind it.

    >>> distinct(["low", "high", "low", "low_2"])
    ['low', 'high', 'low_2', 'low_2_2']
    """
    used, out = set(taken), []
    for name in names:
        free, number = name, 2
        while free in used:
            free, number = f"{name}_{number}", number + 1
        used.add(free)
        out.append(free)
    return out


def comment(text: str) -> str:
    """One line that may stand in any comment or docstring: it neither ends nor begins one, and continues on no other line.

    >>> comment("a */ b /* c \\\\ d")
    'a * / b / * c / d'
    """
    line = "".join(c if c.isprintable() else " " for c in text)
    for sign, harmless in (("\\", "/"), ("*/", "* /"), ("/*", "/ *"), ('"""', "'"), ("'''", "'"), ("??", "? ?")):
        while sign in line:
            line = line.replace(sign, harmless)
    return line.rstrip('"').strip()


def without_block_comments(text: str) -> str:
    """The text without what stands between /* and */; its lines stay where they were.

    A comment that is never closed is no comment: what was pasted may end in the middle.

    >>> without_block_comments("a /* b */ c /* d")
    'a   c /* d'
    """
    out: list[str] = []
    at = 0
    while (start := text.find("/*", at)) >= 0 and (end := text.find("*/", start + 2)) >= 0:
        out.append(text[at:start])
        out.append("\n" * text.count("\n", start, end) + " ")
        at = end + 2
    out.append(text[at:])
    return "".join(out)
