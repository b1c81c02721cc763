"""Where the work on a list is done: here, in processes of this machine, or on a cluster. All give the same."""

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import Any

from jontel.design.errors import CannotRead

Work = Callable[..., list[Any]]
Runner = Callable[[Work, bytes, Any, Sequence[Any]], Iterator[list[Any]]]
"""Does ``work(data, order, batch)`` for every batch and gives the results as they come, in any order."""
TRIED_AGAIN = 5
"""So many workers may die over a batch before it is given up."""
PATIENCE = 10
"""A cluster answers within so many seconds."""


def here(work: Work, data: bytes, order: Any, batches: Sequence[Any]) -> Iterator[list[Any]]:
    """One batch after another in this process."""
    for batch in batches:
        yield work(data, order, batch)


@contextmanager
def on_cluster(jobs: int, scheduler: str) -> Iterator[Runner]:
    """A runner on a Dask cluster: the one at an address, or one of ``jobs`` processes that lives as long as this.

    Raises ``CannotRead`` where no scheduler answers.
    """
    import dask
    from distributed import Client, LocalCluster, as_completed

    settings = {"distributed.scheduler.allowed-failures": TRIED_AGAIN, "distributed.worker.daemon": True,
                "distributed.admin.tick.limit": "1h", "logging.distributed": "critical"}  # fmt: skip
    with dask.config.set(settings):
        cluster = None
        try:
            if scheduler:
                client = Client(scheduler, timeout=PATIENCE, set_as_default=False)
            else:
                cluster = LocalCluster(
                    n_workers=jobs, threads_per_worker=1, dashboard_address=None, host="127.0.0.1", silence_logs=50
                )
                client = Client(cluster, set_as_default=False)
        except (OSError, TimeoutError, ValueError) as error:
            if cluster is not None:
                cluster.close()
            raise CannotRead(
                f"No scheduler answers at {scheduler or 'this machine'}; start one or use --jobs."
            ) from error

        def run(work: Work, data: bytes, order: Any, batches: Sequence[Any]) -> Iterator[list[Any]]:
            known = client.scatter(data, broadcast=True, hash=False)
            waiting = [client.submit(work, known, order, batch, pure=False) for batch in batches]
            for done in as_completed(waiting, loop=client.loop):
                yield done.result()
                done.release()

        try:
            yield run
        finally:
            client.close()
            if cluster is not None:
                cluster.close()
