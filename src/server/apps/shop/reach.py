"""Which addresses an instrument may have: this machine's ports and the workshop's own network."""

import ipaddress
import socket
from urllib.parse import urlparse

from kilncore.errors import Impossible

__all__ = ["require_reach", "within_reach"]


def within_reach(url: str) -> bool:
    """Whether an address is a port of this machine or lies on the workshop's own network."""
    if "://" not in url:
        return url.startswith("/dev/tty") or url.upper().startswith("COM")
    try:
        asked = urlparse(url)
        if asked.scheme not in ("socket", "http") or not asked.hostname:
            return False
        found = {info[4][0] for info in socket.getaddrinfo(asked.hostname, None)}
        return all(ipaddress.ip_address(str(address).split("%")[0]).is_private for address in found)
    except (OSError, ValueError):
        return False


def require_reach(url: str, field: str) -> None:
    """Raise unless an instrument's address is one of the workshop's own."""
    if not within_reach(url):
        example = "http://192.168.0.20/air.json" if field == "logger_url" else "socket://192.168.0.30:4001"
        text = "Instruments are read on this machine's ports or on the workshop's own network, such as {example}."
        raise Impossible("not-in-reach", field, text, {"example": example})
