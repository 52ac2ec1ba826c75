"""The worker: takes jobs out of the queue in PostgreSQL and calls the services.

One worker at a time: it holds a lock in the database for as long as it lives, which tells everybody that it is there.
So a job that is "doing" when a worker begins was left by one that was ended, and is put back; one that ended its worker
three times is given up, and says so. A worker that loses its lock (the database was started again, or restored) ends,
and is started again by whoever keeps it.
"""

import asyncio
import logging
import os
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

import procrastinate
import psycopg
from procrastinate import PsycopgConnector
from procrastinate.jobs import Status

from tobbix.gateways.ports import PriceSource, SellingService
from tobbix.services.grading.batching import batch_runs
from tobbix.services.installation.keeping import back_up_daily
from tobbix.services.installation.store import connection_of, hold_worker_lock, open_catalogue, open_store
from tobbix.services.pricing.borrowing import borrow_runs
from tobbix.services.pricing.fetching import fetch_runs
from tobbix.services.pricing.revaluing import revalue_runs
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.simulating import simulation_runs
from tobbix.services.selling.markets import market_runs
from tobbix.services.tasks.carrying import carry_out_task, give_up

JOB = "carry_out"
MOST_ATTEMPTS = 3
_LOOK_EVERY = 1.0
_BACK_UP_EVERY = 60.0

log = logging.getLogger("tobbix.worker")


@dataclass(frozen=True, slots=True)
class Outside:
    """What long work asks of the outside: ``sources`` of prices, and ``markets`` that sell."""

    sources: Sequence[PriceSource] = ()
    markets: Sequence[SellingService] = ()


def make_queue(url: str, catalogue: Catalogue, outside: Outside) -> procrastinate.App:
    """The queue of an installation, with its tasks."""
    queue = procrastinate.App(connector=PsycopgConnector(kwargs=connection_of(url), min_size=1, max_size=4))

    @queue.task(name=JOB)
    def carry(task: int) -> None:
        runs = {
            **simulation_runs(catalogue),
            **fetch_runs(catalogue, outside.sources),
            **revalue_runs(catalogue),
            **borrow_runs(catalogue),
            **batch_runs(catalogue),
            **market_runs(catalogue, outside.markets),
        }
        carry_out_task(catalogue.database, task, runs)

    return queue


def run_worker(
    url: str,
    wait: bool = True,
    backups: Path | None = None,
    find_outside: Callable[[Catalogue], Outside] = lambda catalogue: Outside(),
) -> None:
    """Work until told to stop; with ``wait`` false until the queue is empty. Waits for its turn first. A backup of each
    day is kept in the folder ``backups``; ``find_outside`` says what can be asked."""
    database = open_store(url)
    catalogue = open_catalogue(database)
    outside = find_outside(catalogue)
    is_main = threading.current_thread() is threading.main_thread()
    lock = hold_worker_lock(url)
    done = threading.Event()
    if wait:
        threading.Thread(target=_end_without, args=(lock, done), daemon=True).start()
    if backups is not None:
        threading.Thread(target=_back_up, args=(catalogue, backups, done), daemon=True).start()
    try:
        asyncio.run(_take_over(make_queue(url, catalogue, outside), catalogue))
        queue = make_queue(url, catalogue, outside)
        with queue.open():
            queue.run_worker(wait=wait, concurrency=1, delete_jobs="successful", install_signal_handlers=is_main)
    finally:
        done.set()
        lock.close()
        database.engine.dispose()


async def _take_over(queue: procrastinate.App, catalogue: Catalogue) -> None:
    """Put back what a worker before this one was at."""
    async with queue.open_async():
        for job in await queue.job_manager.list_jobs_async(status="doing"):
            if job.attempts + 1 < MOST_ATTEMPTS:
                log.warning("job %s was left half done; it begins again", job.id)
                await queue.job_manager.retry_job(job)
            else:
                log.error("job %s ended its worker %s times; it is given up", job.id, MOST_ATTEMPTS)
                give_up(catalogue.database, int(str(job.task_kwargs["task"])))
                await queue.job_manager.finish_job(job, Status.FAILED, delete_job=False)


def _back_up(catalogue: Catalogue, folder: Path, done: threading.Event) -> None:
    """Look every minute whether today's backup is there; a failure is tried again, and seen in the settings."""
    while True:
        try:
            made = back_up_daily(catalogue.database, folder, catalogue.today())
            if made is not None:
                log.info("backed up to %s", made)
        except Exception:  # whatever it is, it is tried again, and its absence is said on the desk
            log.exception("today's backup failed")
        if done.wait(_BACK_UP_EVERY):
            return


def _end_without(lock: psycopg.Connection[tuple[object, ...]], done: threading.Event) -> None:
    while not done.wait(_LOOK_EVERY):
        try:
            lock.execute("select 1")
        except psycopg.Error:
            if not done.is_set():
                log.warning("the lock of the worker is lost; it ends")
                os._exit(3)  # what it was at is put back and done again
