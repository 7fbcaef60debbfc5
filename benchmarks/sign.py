"""Signing: what twelve channels with their PDFs cost, and what a record is checked in.

    python benchmarks/sign.py [channels]        or --smallest

Figures are ratios to what is wanted, below 1 where it is met.
"""

import os
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

MOST_S = 10.0


def main() -> None:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    asked = sys.argv[1] if len(sys.argv) > 1 else "12"
    channels = 2 if asked == "--smallest" else int(asked)
    from able_yardstick.app.paper.record_pdf import record_pdf
    from able_yardstick.app.paper.windowless import ready_to_draw
    from able_yardstick.core.sign.contents import Signing
    from able_yardstick.demo import fresh_copy
    from able_yardstick.files.jobfile import read_job
    from able_yardstick.files.records.keys import key_of_seed
    from able_yardstick.files.records.printed import read_held
    from able_yardstick.files.records.signed import verified
    from able_yardstick.files.records.signing import records_folder, sign_channel
    from able_yardstick.files.register.store import Register, url_of_file
    from able_yardstick.files.register.take import take_record

    path = fresh_copy(Path(tempfile.mkdtemp(prefix="able-yardstick-bench-")))
    job, key = read_job(path), key_of_seed(b"0" * 32)
    ready_to_draw()
    began = time.perf_counter()
    made = []
    with Register(url_of_file(path.with_name("register.sqlite"))) as register:
        for n in range(channels):
            channel = job.continuous("pt-201")
            at = datetime(2026, 11, 29, 12, 0, n % 60, tzinfo=UTC)
            one = sign_channel(
                job, channel, Signing("Ada", "technician", at, accepted="bench"), key, records_folder(path)
            )
            one.path.with_suffix(".pdf").write_bytes(record_pdf(one.record))
            take_record(register, one.record)
            job, made = one.job, [*made, one.path]
    spent = time.perf_counter() - began
    each = spent / channels
    share = 12 * each / MOST_S
    print(f"{channels} channels signed, printed and in the register: {spent:.2f} s, {share:.2f} of what is wanted")
    began = time.perf_counter()
    held = read_held(made[-1].with_suffix(".pdf"))
    assert verified(held.record).is_whole
    assert not held.page_changes
    print(
        f"a PDF of {len(held.record['record']['readings'])} readings is verified in {time.perf_counter() - began:.2f} s"
    )


if __name__ == "__main__":
    main()
