# Values as text, by the rules of docs/values.md. Plain Python: no classes, no other modules, no floating point.


def digits(number, least):
    shown = str(number)
    return "0" * (least - len(shown)) + shown


# raw: the value without its point, which has `scale` decimals. plus: "+", " " or "". fill: " ", "0" or "".
def number(raw, scale, decimals, plus, fill, width):
    cut = 1
    for _ in range(decimals, scale):
        cut *= 10
    magnitude = (abs(raw) + cut // 2) // cut
    kept = min(scale, decimals)
    body = digits(magnitude, kept + 1)
    if decimals:
        body = body[: len(body) - kept] + "." + body[len(body) - kept :] + "0" * (decimals - kept)
    sign = "-" if raw < 0 and magnitude else plus
    room = max(0, width - len(sign) - len(body))
    if fill == "0":
        return sign + "0" * room + body
    return (" " * room if fill else "") + sign + body


# Seconds since midnight. zeros: two digits for hours. seconds_too: seconds are shown.
def clock(seconds, zeros, seconds_too):
    seconds %= 86400
    text = digits(seconds // 3600, 2 if zeros else 1) + ":" + digits(seconds // 60 % 60, 2)
    return text + ":" + digits(seconds % 60, 2) if seconds_too else text


# Seconds since midnight in twelve hours; minutes: minutes are shown.
def clock_12(seconds, minutes):
    seconds %= 86400
    hour = seconds // 3600
    text = str(hour % 12 or 12)
    if minutes:
        text += ":" + digits(seconds // 60 % 60, 2)
    return text + (" am" if hour < 12 else " pm")


# A length of time. form: 0 m:ss, 1 h:mm, 2 h:mm:ss, 3 days and hours.
def duration(seconds, form):
    total = abs(seconds)
    sign = "-" if seconds < 0 and total // (1, 60, 1, 3600)[form] else ""
    first = sign + str(total // (60, 3600, 3600, 86400)[form])
    if form == 3:
        return first + " d " + str(total // 3600 % 24) + " h"
    text = first + ":" + digits(total // 60 % 60 if form else total % 60, 2)
    return text + ":" + digits(total % 60, 2) if form == 2 else text


# Words as they are, at most so many bytes of them in UTF-8, whole characters.
def words(text, most):
    while len(text.encode()) > most:
        text = text[:-1]
    return text


MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


# Days since 1970-01-01. form: 0 yyyy-mm-dd, 1 dd.mm., 2 dd.mm.yyyy, 3 mm/dd, 4 d mon, 5 weekday.
def date(days, form):
    shifted = days + 719468
    cycle, day = shifted // 146097, shifted % 146097
    year = (day - day // 1460 + day // 36524 - day // 146096) // 365
    day -= 365 * year + year // 4 - year // 100
    month = (5 * day + 2) // 153
    shown = month + 3 if month < 10 else month - 9
    year += cycle * 400 + (1 if month >= 10 else 0)
    day -= (153 * month + 2) // 5 - 1
    if form == 0:
        return digits(year, 4) + "-" + digits(shown, 2) + "-" + digits(day, 2)
    if form == 1:
        return digits(day, 2) + "." + digits(shown, 2) + "."
    if form == 2:
        return digits(day, 2) + "." + digits(shown, 2) + "." + digits(year, 4)
    if form == 3:
        return digits(shown, 2) + "/" + digits(day, 2)
    if form == 4:
        return str(day) + " " + MONTHS[shown - 1]
    return WEEKDAYS[(shifted + 2) % 7]
