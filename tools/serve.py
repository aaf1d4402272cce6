"""Start the server on a free port and say where it is."""

import os
import socket
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
TRIES = 20


def is_free(host: str, port: int) -> bool:
    """Say whether nothing listens on a port."""
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return False
    return True


def free_port(host: str, wanted: int) -> int:
    """Return the wanted port, or the next free one; exit when there is none."""
    for port in range(wanted, wanted + TRIES):
        if is_free(host, port):
            return port
    sys.exit(f"Ports {wanted} to {wanted + TRIES - 1} are all taken: choose another with PORT=9000.")


def main() -> None:
    """Replace this process by gunicorn."""
    host = os.environ.get("KILN_BIND", "127.0.0.1")
    try:
        wanted = int(sys.argv[1]) if len(sys.argv) > 1 else 8730
    except ValueError:
        sys.exit(f"PORT is a number such as 8730; {sys.argv[1]!r} came.")
    port = free_port(host, wanted)
    if port != wanted:
        print(f"Port {wanted} is taken; using {port}.")
    print(f"Yard Kiln is open at http://{host}:{port}/   (Ctrl-C closes it)", flush=True)
    command = [
        sys.executable, "-m", "gunicorn", "server.config.wsgi:application",
        "--chdir", str(ROOT / "src"), "--bind", f"{host}:{port}",
        "--worker-class", "gthread", "--threads", "8", "--no-control-socket", "--log-level", "warning",
    ]  # fmt: skip
    os.execv(sys.executable, command)


if __name__ == "__main__":
    main()
