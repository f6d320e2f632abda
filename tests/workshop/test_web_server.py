"""The web server: turns of makers, idle clients, whose word on a client's address is taken, and logs that turn over."""

import http.client
import socket
import threading
from types import SimpleNamespace

import pytest

from workshop.serving import logs
from workshop.serving.fair import FairQueue, sender_of
from workshop.serving.web import listening_socket, web_server


def task(name: str, session: str = "", address: str = "10.0.0.1"):
    headers = {"COOKIE": f"csrftoken=x; sessionid={session}"} if session else {}
    return SimpleNamespace(name=name, requests=[SimpleNamespace(headers=headers)], addr=(address, 4711))


def test_everybody_has_a_turn():
    queue = FairQueue()
    for name in ("a1", "a2", "a3", "a4"):
        queue.append(task(name, "anna"))
    queue.append(task("b1", "ben"))
    queue.append(task("n1"))
    assert len(queue) == 6
    assert queue.popleft().name == "a1"
    queue.append(task("b2", "ben"))
    queue.append(task("n2", address="10.0.0.2"))
    assert [queue.popleft().name for _ in range(len(queue))] == ["b1", "n1", "a2", "n2", "b2", "a3", "a4"]
    assert not queue
    with pytest.raises(IndexError):
        queue.popleft()


def test_a_sender_is_a_session_or_an_address():
    assert sender_of(task("a", "anna")) == "anna"
    assert sender_of(task("a")) == "10.0.0.1"
    assert sender_of(SimpleNamespace()) == ""


@pytest.fixture
def served(request):
    """The port of a server that answers with what the application is told of its client."""

    def application(environ, start_response):
        start_response("200 OK", [("Content-Type", "text/plain")])
        return [f"{environ['REMOTE_ADDR']} {environ['wsgi.url_scheme']} {environ.get('HTTP_X_FORWARDED_FOR', '')}".encode()]

    shared = listening_socket(0)
    server = web_server(shared, application, proxy=getattr(request, "param", ""))
    thread = threading.Thread(target=server.asyncore.loop, kwargs={"map": server._map, "timeout": 0.05}, daemon=True)
    thread.start()
    yield shared.getsockname()[1]
    server.close()
    thread.join(5)


def told(port: int) -> str:
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
    connection.request("GET", "/", headers={"X-Forwarded-For": "203.0.113.7", "X-Forwarded-Proto": "https"})
    answer = connection.getresponse().read().decode()
    connection.close()
    return answer.strip()


@pytest.mark.parametrize(
    ("served", "words"), [("", "127.0.0.1 http"), ("192.0.2.1", "127.0.0.1 http"), ("127.0.0.1", "203.0.113.7 https")], indirect=["served"]
)  # fmt: skip
def test_the_word_of_a_named_proxy_is_taken_and_of_nobody_else(served, words):
    assert told(served).startswith(words)


def test_clients_that_say_nothing_or_half_a_request_hold_nobody_up(served):
    idle = [socket.create_connection(("127.0.0.1", served)) for _ in range(200)]
    for client in idle[::2]:
        client.sendall(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 100\r\n\r\nhalf")
    for _ in range(5):
        assert told(served).startswith("127.0.0.1")
    for client in idle:
        client.close()


def test_large_logs_turn_over_and_nothing_is_lost(tmp_path, monkeypatch):
    monkeypatch.setattr(logs, "LARGEST", 10)
    log = tmp_path / "web.log"
    assert not logs.turn_over(log)
    with log.open("a") as writing:
        for number, text in enumerate(("first 1234", "second 123", "third 1234", "fourth 123")):
            writing.write(text[:9])
            writing.flush()
            assert not logs.turn_over(log)  # nine of ten bytes
            writing.write(text[9:])
            writing.flush()
            assert logs.turn_over(log)
            assert log.read_text() == ""
            assert (tmp_path / "web.log.1").read_text() == text, number
        writing.write("fifth")
        writing.flush()
    assert log.read_text() == "fifth"
    kept = {path.name: path.read_text() for path in tmp_path.iterdir()}
    assert kept == {"web.log": "fifth", "web.log.1": "fourth 123", "web.log.2": "third 1234", "web.log.3": "second 123"}
