"""The phone at the table: for as long as this runs, a phone in the same network can use this installation.

Everything goes through TLS with a certificate of this installation's own; a browser cannot know it, so its fingerprint
is said here, to be compared once. The server behind it listens on loopback only, with cookies of its own.
"""

import asyncio
import socket
import ssl
import threading
from contextlib import suppress
from pathlib import Path

import click
import segno

from tobbix.app import create_app
from tobbix.cli.certificates import certify
from tobbix.cli.keeping import bind
from tobbix.cli.web_server import make_web_server
from tobbix.cli.words import plain_errors
from tobbix.config import Config
from tobbix.core.base.errors import InputError
from tobbix.formats.limits import MOST_UPLOADED
from tobbix.services.installation import owners

_CHUNK = 1 << 16
_HANDSHAKE_SECONDS = 20
ALLOWS = """
Open it with the phone’s camera. The phone must be in the same network as this machine.
The browser will warn once, since nobody but you made this certificate: go on only if its SHA-256 fingerprint is
  {fingerprint}
What this allows: whoever is in this network can reach the sign-in page, and with your passphrase everything that you
can. Nothing is open beyond this network unless your router forwards it. Do not use it in a network that you share with
strangers. It ends with Ctrl C{after}.
"""


@click.command()
@click.option("--folder", type=click.Path(file_okay=False, exists=True, path_type=Path), default=Path("own"),
              show_default=True, help="Of the installation; the certificate is kept here.")  # fmt: skip
@click.option("--host", help="The address of this machine in its network; found by itself if left out.")
@click.option("--port", default=8443, show_default=True, type=click.IntRange(1, 65535))
@click.option("--hours", default=4.0, show_default=True, type=click.FloatRange(0.01, 24), help="Ends after so long.")
@plain_errors
def phone(folder: Path, host: str | None, port: int, hours: float) -> None:
    """Let a phone in the same network in, through TLS, and show a code for its camera."""
    config = Config()
    host = host or own_address()
    owners.check_may_listen(config.database_url.get_secret_value(), host)
    certificate, key, fingerprint = certify(folder / "tls", host)
    inside = bind("127.0.0.1", 0)
    outside = bind(host, port)
    shown = f"[{host}]" if ":" in host else host
    reached = config.model_copy(update={"secure_cookie": True, "names": f"{config.names},{shown}"})
    server = make_web_server(create_app(reached), inside, MOST_UPLOADED)
    threading.Thread(target=server.run, daemon=True).start()
    address = f"https://{shown}:{port}/"
    code: segno.QRCode = segno.make_qr(address)
    code.terminal(compact=True)
    click.echo(f"\n  {address}\n{ALLOWS.format(fingerprint=fingerprint, after=f', or after {hours:g} hours')}")
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.minimum_version = ssl.TLSVersion.TLSv1_2
    context.load_cert_chain(certificate, key)
    with suppress(KeyboardInterrupt, TimeoutError):
        asyncio.run(asyncio.wait_for(forward(outside, context, inside.getsockname()[1]), hours * 3600))
    click.echo("Closed.")


def own_address() -> str:
    """The address by which this machine is known in its network. Raises InputError if it is in none."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))  # nothing is sent; the address is for documents only (RFC 5737)
        except OSError:
            raise InputError.at("host", "this machine is in no network; say its address with --host") from None
        return str(probe.getsockname()[0])


async def forward(listener: socket.socket, context: ssl.SSLContext, port: int) -> None:
    """Take TLS off what arrives and hand it to the server on loopback, until cancelled."""

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            inside = await asyncio.open_connection("127.0.0.1", port)
        except OSError:
            writer.close()
            return
        async with asyncio.TaskGroup() as both:
            both.create_task(_pump(reader, inside[1]))
            both.create_task(_pump(inside[0], writer))

    server = await asyncio.start_server(serve, sock=listener, ssl=context, ssl_handshake_timeout=_HANDSHAKE_SECONDS)
    async with server:
        await server.serve_forever()


async def _pump(source: asyncio.StreamReader, target: asyncio.StreamWriter) -> None:
    with suppress(OSError, ssl.SSLError):  # a phone that goes away needs no answer
        while data := await source.read(_CHUNK):
            target.write(data)
            await target.drain()
    target.close()
