"""Spoils a good input: at random, from a seed, so that whatever is found can be had again."""

import json
import random
from typing import Any

NASTY: tuple[Any, ...] = (
    *(0, -1, 1, 3, 0.5, -0.0, 1e-320, 1e-300, 1e308, -1e308, 1e9, 1e15, 10**30, True, None, [], {}, [[]], [None]),
    *("", " ", "x", "\u0000", "=1+1", "../../x", "a\nb", "\x1b[2J", "\u202e", "<img src=x>", "x" * 5000, "\n" * 30),
    *("0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00", "1904-01-01T00:00:00+00:00", "2026-05-04T14:00:00"),
    *("2026-05-04T14:00:00+00:00", "2135-01-01T00:00:00Z", "P400", "top", "lid", "lacquer-sprayed", {"": None}),
)
TOKENS = (
    *(b"\x00", b"\xff", b"\x86", b'"', b"{", b"}", b"(", b",", b";", b"\t", b"\r", b"#", b"-", b"=", b"'''", b'"""'),
    *(b"[" * 3000, b"\n" * 40, b"a." * 2000, b"9" * 4400, b"x" * 140_000, b"\\u0000", b"\xef\xbb\xbf", b"[[stage]]\n"),
    *(b"1e999", b"nan", b"inf", b"1e-320", b"-17,5", b"null", b"true", b"{}", b"[]", b'"id":', b"1904-01-01 00:00"),
    *(b"0001-01-01T00:00:00+14:00", b"9999-12-31 23:59", b"31/12/26 11:59:59 PM"),
)


def spoiled(seeds: tuple[bytes, ...], chance: random.Random) -> bytes:
    """One of the seeds with something wrong about it, or a few things."""
    raw = chance.choice(seeds)
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        raw = _told_otherwise(raw, chance) if chance.random() < 0.5 else _cut_and_pasted(raw, seeds, chance)
    return raw


def _told_otherwise(raw: bytes, chance: random.Random) -> bytes:
    """A value of a JSON document, or a word of any other text, that says something else."""
    try:
        told = json.loads(raw)
    except (ValueError, RecursionError):
        words = raw.split(b" ")
        i = chance.randrange(len(words))
        words[i] = str(chance.choice(NASTY)).encode(errors="surrogatepass")
        return b" ".join(words)
    holder, place = chance.choice(_places(told) or [(None, None)])
    if holder is None:
        return json.dumps(chance.choice(NASTY)).encode()
    turn = chance.random()
    if turn < 0.15:
        del holder[place]
    elif turn < 0.25 and isinstance(holder, dict):
        holder[str(chance.choice(NASTY))[:60]] = holder[place]
    elif turn < 0.3 and isinstance(holder, list):
        holder.extend([holder[place]] * chance.choice((1, 5, 60)))
    elif turn < 0.65 and isinstance(holder[place], int | float):
        holder[place] *= chance.choice((0.0, 1e-6, 0.1, 0.5, 2, 10, 1e4, -1))
    else:
        holder[place] = chance.choice(NASTY)
    return json.dumps(told).encode()


def _places(told: Any) -> list[tuple[Any, Any]]:
    out, todo = [], [told]
    while todo:
        holder = todo.pop()
        keys = list(holder) if isinstance(holder, dict) else range(len(holder)) if isinstance(holder, list) else ()
        for key in keys:
            out.append((holder, key))
            if isinstance(holder[key], dict | list):
                todo.append(holder[key])
    return out


def _cut_and_pasted(raw: bytes, seeds: tuple[bytes, ...], chance: random.Random) -> bytes:
    at = chance.randrange(len(raw) + 1)
    to = min(at + chance.choice((1, 2, 8, 60, 700)), len(raw))
    turn = chance.randrange(7)
    if turn == 0:
        return raw[:at] + raw[to:]
    if turn == 1:
        return raw[:at] + raw[at:to] * chance.choice((2, 3, 50)) + raw[to:]
    if turn == 2:
        return raw[:at] + chance.choice(TOKENS) + raw[at:]
    if turn == 3:
        return raw[:at] + chance.choice(TOKENS) + raw[to:]
    if turn == 4:
        return raw[:at]
    if turn == 5 and at < len(raw):
        return raw[:at] + bytes([chance.randrange(256)]) + raw[at + 1 :]
    other = chance.choice(seeds)
    cut = chance.randrange(len(other) + 1)
    return raw[:at] + other[cut:]
