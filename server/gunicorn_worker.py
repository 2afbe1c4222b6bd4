"""gunicorn's threaded worker with patience that ends: idle and slow connections are closed, unread bodies are not waited for.

A thread is held from a connection's first byte on. Without limits ten connections that send nothing more hold ten threads.
"""

from __future__ import annotations

import errno
import os
import selectors
import socket
import time
import weakref
from functools import partial
from typing import Any

from gunicorn.workers.gthread import TConn, ThreadWorker  # type: ignore[import-untyped]

PATIENCE = float(os.environ.get("WENDRICK_PATIENCE", "1"))  # a factor on all that follows
FIRST_BYTE_S = 15.0 * PATIENCE
HEADERS_S = 10.0 * PATIENCE
BODY_S, BODY_BYTES_S = (
    20.0 * PATIENCE,
    20_000.0 / PATIENCE,
)  # a body may take this long, and longer by its size at this rate
SEND_S = 60.0  # without the other side taking anything
LINGER_S, LINGER_BYTES = 2.0, 8 * 1024 * 1024


class Worker(ThreadWorker):  # type: ignore[misc]  # gunicorn has no types
    """The threaded worker; `deadline` of a connection is when it must have sent what is waited for."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.open: weakref.WeakSet[Any] = weakref.WeakSet()

    def accept(self, server: Any, listener: Any) -> None:
        try:
            sock, client = listener.accept()
        except OSError as error:
            if error.errno not in (errno.EAGAIN, errno.ECONNABORTED, errno.EWOULDBLOCK):
                raise
            return
        conn = TConn(self.cfg, sock, client, server)
        conn.deadline, conn.request = time.monotonic() + FIRST_BYTE_S, None
        self.open.add(conn)
        self.nr_conns += 1
        with self._lock:
            self.poller.register(conn.sock, selectors.EVENT_READ, partial(self.on_client_socket_readable, conn))

    def enqueue_req(self, conn: Any) -> None:
        conn.deadline, conn.request = time.monotonic() + HEADERS_S, None
        super().enqueue_req(conn)

    def handle(self, conn: Any) -> Any:
        conn.sock.settimeout(SEND_S)
        return super().handle(conn)

    def handle_request(self, req: Any, conn: Any) -> bool:
        conn.request = req
        conn.deadline = time.monotonic() + BODY_S + _unread(req) / BODY_BYTES_S
        own = req.should_close
        # what is answered before its body is read is the last of its connection, and the answer says so
        req.should_close = lambda: own() or _unread(req) > 0
        keep = super().handle_request(req, conn)
        conn.deadline = None
        if _unread(req) > 0:
            _linger(conn.sock)
            return False
        return bool(keep)

    def murder_keepalived(self) -> None:
        """Called about once a second: ends what was waited for long enough, and what is kept alive too long."""
        now = time.monotonic()
        for conn in list(self.open):
            late = conn.deadline is not None and now > conn.deadline
            if late and (conn.request is None or _unread(conn.request) > 0):
                conn.deadline = None
                try:  # wakes the thread that reads from it, or the poller
                    conn.sock.shutdown(socket.SHUT_RDWR)
                except OSError:
                    continue
        super().murder_keepalived()


def _unread(req: Any) -> int:
    """Bytes of a request's body that were announced and not read."""
    return int(getattr(req.body.reader, "length", 0) or 0)


def _linger(sock: socket.socket) -> None:
    """Let the answer arrive while the other side still sends what nobody reads."""
    try:
        sock.shutdown(socket.SHUT_WR)
        sock.settimeout(LINGER_S)
        until, taken = time.monotonic() + LINGER_S, 0
        while time.monotonic() < until and taken < LINGER_BYTES and (chunk := sock.recv(65536)):
            taken += len(chunk)
    except OSError:
        return
