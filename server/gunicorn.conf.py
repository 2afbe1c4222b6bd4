"""How the web server runs: ./run demo and ./run serve start it with this."""

import os

bind = os.environ.get("WENDRICK_BIND") or f"127.0.0.1:{os.environ.get('WENDRICK_PORT', '8000')}"
workers = int(os.environ.get("WENDRICK_WEB_WORKERS", "2"))
threads = 24
worker_class = "server.gunicorn_worker.Worker"
worker_connections = 400
keepalive = 15
graceful_timeout = 20
limit_request_line = 4094
limit_request_fields = 60
limit_request_field_size = 8190
loglevel = "warning"
# what a proxy in front of it on this machine says of the other side is believed
forwarded_allow_ips = os.environ.get("WENDRICK_PROXY", "127.0.0.1")
