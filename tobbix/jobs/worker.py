"""The worker: takes jobs out of the queue in PostgreSQL and calls the services.

A job of a worker that was killed stays "doing"; it is put back when the next worker begins, and while it runs.
"""

import os
import signal
import threading
import time

import procrastinate
from procrastinate import JobContext, PsycopgConnector

from tobbix.services.installation.store import connection_of, open_store, open_workshop
from tobbix.services.products.simulating import run_simulation
from tobbix.services.products.workshop import Workshop

TASK = "simulate"
_STALLED_AFTER = 30


def make_queue(url: str, workshop: Workshop) -> procrastinate.App:
    """The queue of an installation, with its tasks."""
    queue = procrastinate.App(connector=PsycopgConnector(kwargs=connection_of(url), min_size=1, max_size=4))

    @queue.task(name=TASK)
    def simulate(simulation: int) -> None:
        run_simulation(workshop, simulation)

    @queue.periodic(cron="* * * * *")
    @queue.task(name="retry_stalled", queueing_lock="retry_stalled", pass_context=True)
    async def retry_stalled(context: JobContext, timestamp: int) -> None:
        del timestamp
        for job in await context.app.job_manager.get_stalled_jobs(seconds_since_heartbeat=_STALLED_AFTER):
            await context.app.job_manager.retry_job(job)

    return queue


def run_worker(url: str, wait: bool = True, parent: int | None = None) -> None:
    """Work until told to stop; with ``wait`` false until the queue is empty. Ends with the process ``parent``."""
    if parent is not None:
        threading.Thread(target=_end_with, args=(parent,), daemon=True).start()
    database = open_store(url)
    queue = make_queue(url, open_workshop(database))
    is_main = threading.current_thread() is threading.main_thread()
    try:
        with queue.open():
            queue.run_worker(wait=wait, concurrency=1, delete_jobs="successful", install_signal_handlers=is_main)
    finally:
        database.engine.dispose()


def _end_with(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(1)
    os.kill(os.getpid(), signal.SIGKILL)  # what it was at is put back and done again: nothing is half stored
