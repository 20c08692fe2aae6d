"""What a request that is not refused answers."""

from __future__ import annotations

from typing import Any

import httpx


def good(answer: httpx.Response) -> Any:
    assert answer.status_code == 200, answer.text
    return answer.json()
