"""What the worker does by itself."""

from procrastinate.contrib.django import app

from releases.bills import keep_changed


@app.periodic(cron="*/5 * * * *")
@app.task(name="keep_bills", queueing_lock="keep_bills")
def keep_bills(timestamp: int) -> None:
    """Write down the bills of projects that changed, so that the next release can be held against them."""
    keep_changed()
