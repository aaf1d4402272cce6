"""Start the stand-ins: python -m kilndevices [--scale 8741] [--logger 8742] [--meter 8743]."""

import argparse
import contextlib
import threading

from kilndevices.stands import LineStand, LoggerStand, MeterLines, ScaleLines


def main() -> None:
    """Serve until stopped."""
    parser = argparse.ArgumentParser(
        prog="kilndevices", description="A scale, a climate logger and a meter to try the app with."
    )
    parser.add_argument("--scale", type=int, default=8741, help="port of the scale")
    parser.add_argument("--logger", type=int, default=8742, help="port of the climate logger")
    parser.add_argument("--meter", type=int, default=8743, help="port of the moisture meter")
    parser.add_argument("--load", type=float, default=1480.0, help="grams on the scale")
    parser.add_argument("--moisture", type=float, default=14.2, help="percent the meter finds")
    parser.add_argument("--seconds", type=float, default=None, help="stop by itself after so long")
    asked = parser.parse_args()
    load = ScaleLines(asked.load)
    scale = LineStand(load, port=asked.scale).start()
    meter = LineStand(MeterLines(asked.moisture), port=asked.meter).start()
    logger = LoggerStand(port=asked.logger, scale=load).start()
    print(f"scale    {scale.url}")
    print(f"meter    {meter.url}")
    print(f"logger   {logger.url}")
    print(f"To put 1234 g on the scale, open http://127.0.0.1:{asked.logger}/load?g=1234", flush=True)
    with contextlib.suppress(KeyboardInterrupt):
        threading.Event().wait(asked.seconds)


if __name__ == "__main__":
    main()
