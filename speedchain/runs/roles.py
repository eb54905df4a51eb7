"""What the channels of a recording are for: guessed from what the file says of them, or said by a person."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Literal, Protocol

from speedchain.fields import Words
from speedchain.results import result

Role = Literal["true", "shown", "driven", "free", "other"]
"""What a speed is for: the true one, the one that a display shows, of a driven wheel, of a free wheel, or none of
these."""
_SHOWN = re.compile(r"dash|display|shown|speedo|gauge|water", re.IGNORECASE)
_DRIVEN = re.compile(r"driven|rear|back|countershaft|output", re.IGNORECASE)
_FREE = re.compile(r"\bfree|undriven|not driven|front", re.IGNORECASE)
"""Most vehicles that log slip drive their rear wheels: a guess, and said to be one."""
Lacking = Literal["speed", "true", "shown", "direction"]


@result
class Lack:
    """What a check of a display needs and the recording does not say, and what to do about it."""

    code: Lacking
    text: Words
    remedy: Words


class Named(Protocol):
    """What is known of a channel without its samples."""

    @property
    def name(self) -> str:
        """What it was called in the file."""

    @property
    def quantity(self) -> str:
        """What it is."""

    @property
    def true(self) -> bool:
        """Whether it is taken for the true speed."""


def usual_speeds(channels: Iterable[Named], roles: Mapping[str, Role] | None = None) -> tuple[str, str] | None:
    """Names of the true and the shown speed among channels: those that a person said; otherwise a satellite's, and the
    one that is called a display's, or the first other one; None without any speed.

    Examples
    --------
    >>> import numpy as np
    >>> from speedchain.runs.recording import Channel
    >>> none = {"time_s": np.empty(0), "values": np.empty(0)}
    >>> there = [Channel(name=name, quantity="speed", unit="km/h", true=name == "gps", **none)
    ...     for name in ("front", "rear", "gps")]
    >>> usual_speeds(there), usual_speeds(there, {"front": "free", "rear": "shown"})
    (('gps', 'front'), ('gps', 'rear'))
    """
    speeds = [item for item in channels if item.quantity == "speed"]
    if not speeds:
        return None
    assigned = dict(roles or {})
    of_role = {role: item.name for item in reversed(speeds) if (role := assigned.get(item.name)) is not None}
    unassigned = [item for item in speeds if item.name not in assigned]
    true = of_role.get("true") or next((item.name for item in unassigned if item.true), "")
    if not true:
        left = [item for item in unassigned if item.name != of_role.get("shown")] or speeds
        likely = [item.name for item in left if not _SHOWN.search(item.name)] or [item.name for item in left]
        likely = [name for name in likely if _looks(name) != "driven"] or likely
        true = of_role.get("free") or likely[-1]
    named = [item for item in unassigned if _SHOWN.search(item.name)]
    others = [item.name for item in (*named, *unassigned, *speeds) if item.name != true]
    return true, of_role.get("shown") or (others[0] if others else true)


def wheel_speeds(channels: Iterable[Named], roles: Mapping[str, Role] | None = None) -> tuple[str, str] | None:
    """Names of a reference and of a driven wheel's speed: those that a person said; otherwise the true speed and,
    of the others, a rear or driven one, or the last that no display shows.

    Examples
    --------
    >>> import numpy as np
    >>> from speedchain.runs.recording import Channel
    >>> none = {"time_s": np.empty(0), "values": np.empty(0)}
    >>> there = [Channel(name=name, quantity="speed", unit="km/h", true=name == "gps", **none)
    ...     for name in ("front", "rear", "gps")]
    >>> wheel_speeds(there), wheel_speeds(there, {"front": "free"})
    (('gps', 'rear'), ('front', 'rear'))
    """
    speeds = [item for item in channels if item.quantity == "speed"]
    usual = usual_speeds(speeds, roles)
    if usual is None:
        return None
    of_role = {role: name for name, role in reversed(list((roles or {}).items()))}
    there = {item.name for item in speeds}
    free, driven = of_role.get("free", ""), of_role.get("driven", "")
    reference = free if free in there else usual[0]
    others = [item.name for item in speeds if item.name not in (reference, usual[0])] or [
        item.name for item in speeds if item.name != reference
    ]
    wheels = [name for name in others if not _SHOWN.search(name)] or others
    wheels = [name for name in wheels if _looks(name) == "driven"] or wheels
    return reference, driven if driven in there else (wheels[-1] if wheels else reference)


def _looks(name: str) -> Role | None:
    """Which wheel a name speaks of."""
    if _FREE.search(name):
        return "free"
    return "driven" if _DRIVEN.search(name) else None


def role_of(item: Named, usual: tuple[str, str] | None, roles: Mapping[str, Role]) -> Role | None:
    """What a speed is for: as a person said it, or as it is taken until then."""
    if item.quantity != "speed" or usual is None:
        return None
    if item.name in roles:
        return roles[item.name]
    if usual[0] == usual[1]:  # one speed alone
        return "true" if item.true else "shown"
    return "true" if item.name == usual[0] else "shown" if item.name == usual[1] else _looks(item.name)


def lacking(channels: Sequence[Named], roles: Mapping[str, Role], *, afloat: bool) -> tuple[Lack, ...]:
    """What must be known before the display can be checked with a recording.

    Examples
    --------
    >>> import numpy as np
    >>> from speedchain.runs.recording import Channel
    >>> gps = Channel(name="gps", quantity="speed", unit="km/h", true=True, time_s=np.empty(0), values=np.empty(0))
    >>> [item.code for item in lacking([gps], {}, afloat=False)], [item.code for item in lacking([], {}, afloat=True)]
    (['shown'], ['speed'])
    """
    usual = usual_speeds(channels, roles)
    if usual is None and any(item.quantity in ("pulses", "frequency") for item in channels):
        return ()  # a captured ring, which has no display to be checked
    if usual is None:
        return (
            Lack(
                code="speed",
                text="No channel of this recording is a speed.",
                remedy="Set in the table what each channel is, and its unit.",
            ),
        )
    found: list[Lack] = []
    if usual[0] == usual[1]:
        (only,) = [item for item in channels if item.name == usual[0]]
        if role_of(only, usual, roles) == "true":
            found.append(
                Lack(
                    code="shown",
                    text="No channel of this recording is the speed that the display shows.",
                    remedy="Set one in the table. Without one, enter shown speeds by hand, or compare the distance "
                    "that the display counted.",
                )
            )
        else:
            found.append(
                Lack(
                    code="true",
                    text="No channel of this recording is the true speed.",
                    remedy="Set one in the table, or record the satellite speed or the places beside the shown speed.",
                )
            )
    if afloat and not any(item.quantity in ("course", "heading") for item in channels):
        found.append(
            Lack(
                code="direction",
                text="Without a course a current and an error look alike.",
                remedy="Set in the table which channel is the course over ground or the heading, or record it as well.",
            )
        )
    return tuple(found)
