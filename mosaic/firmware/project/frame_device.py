# @TITLE@: asks a host for its frame, again and again. Plain Python with sockets, as boards have it too.
#     python3 frame_device.py TOKEN [TIMES]
# On a board show(frame) sends the bytes to the panel, and sleep takes the place of time.sleep.
import socket
import sys
import time

HOST, PORT, PATH = "@HOST@", int("@PORT@"), "@PATH@"


def ask(token, tag):
    """(status, tag, seconds until it is asked again, the frame's bytes)."""
    lines = ["GET " + PATH + " HTTP/1.0", "Host: " + HOST + ":" + str(PORT), "Authorization: Bearer " + token]
    if tag:
        lines.append("If-None-Match: " + tag)
    link = socket.socket()
    link.settimeout(20)
    try:
        link.connect((HOST, PORT))
        link.sendall(("\r\n".join(lines) + "\r\n\r\n").encode())
        answer = b""
        while True:
            some = link.recv(4096)
            if not some:
                break
            answer += some
    finally:
        link.close()
    head, _, body = answer.partition(b"\r\n\r\n")
    first, *rest = head.decode("latin-1").split("\r\n")
    known = {}
    for line in rest:
        name, _, value = line.partition(":")
        known[name.strip().lower()] = value.strip()
    again = known.get("x-ask-again") or known.get("retry-after") or "60"
    return int(first.split()[1]), known.get("etag", ""), int(again), body


def show(frame):
    """Sends the bytes to the panel."""
    print(len(frame), "bytes to show")


def main(token, times):
    tag = ""
    while times:
        times -= 1
        again = 60
        try:
            status, new, again, frame = ask(token, tag)
            if status == 200:
                tag = new
                show(frame)
            elif status != 304:
                print("answered with", status, frame.decode("utf-8", "replace")[:200])
        except OSError as error:  # the host is away: what is shown stays, and it is asked again
            print("the host does not answer:", error)
        if times:
            time.sleep(again)


main(sys.argv[1], int(sys.argv[2]) if len(sys.argv) > 2 else -1)
