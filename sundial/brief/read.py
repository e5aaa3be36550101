"""Reading a brief: from JSON text to a :class:`Brief`, with refusals that name the path of the wrong value."""

from __future__ import annotations

import json
from typing import Annotated, Any, get_args, get_origin

from annotated_types import Ge, Gt, Le, Lt, MaxLen, MinLen
from pydantic import ValidationError
from pydantic.fields import FieldInfo

from sundial.brief.model import Brief, BriefSection
from sundial.brief.sections.use import HOUR
from sundial.errors import BriefError

FORMAT, VERSION = "crooked-sundial-brief", 1
LARGEST = 2_000_000


def read_brief(text: str | bytes) -> Brief:
    """A brief from JSON text. BriefError names the path of what is wrong."""
    if len(text) > LARGEST:
        raise BriefError("", "the brief is far too large: a brief has a few kB")
    try:
        data = json.loads(text, object_pairs_hook=_no_repeats, parse_constant=float)  # NaN is refused where it stands
    except BriefError:
        raise
    except UnicodeDecodeError:
        raise BriefError("", "the brief is not readable text (JSON in UTF-8)") from None
    except json.JSONDecodeError as error:
        raise BriefError(f"line {error.lineno}", f"not JSON: {error.msg} at column {error.colno}") from None
    except RecursionError:
        raise BriefError("", "the brief is nested too deeply") from None
    except ValueError:  # Python reads no whole number of over 4300 digits
        raise BriefError("", "the brief holds a number with far too many digits") from None
    return brief_of(data)


def brief_of(data: Any) -> Brief:
    """A brief from parsed JSON."""
    if not isinstance(data, dict):
        raise BriefError("", "a brief is a JSON object in braces")
    if data.get("format") != FORMAT:
        raise BriefError("format", f'must be "{FORMAT}"')
    version = data.get("version")
    if isinstance(version, int) and version > VERSION:
        raise BriefError(
            "version", f"this brief is of version {version}; this program reads version {VERSION}: update the program"
        )
    try:
        return Brief.model_validate_json(json.dumps(data), strict=True)  # strict: no text where a number belongs
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise BriefError(*_explain(first["loc"], first["type"], first["msg"], first.get("ctx", {}))) from None


def _no_repeats(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    result: dict[str, Any] = {}
    for key, value in pairs:
        if key in result:
            raise BriefError(key, "is given twice in one object")
        result[key] = value
    return result


def _explain(loc: tuple[Any, ...], kind: str, message: str, context: dict[str, Any]) -> tuple[str, str]:
    """Path and words for one of pydantic's errors: loc without union tags, and the field's own range in the message."""
    path, field, owner = _walk(loc)
    if kind == "extra_forbidden":
        known = ", ".join(_keys(owner)) if owner else ""
        return path, f"is not a key of a brief; known here: {known}"
    if kind == "missing":
        return path, "is missing"
    if kind in ("union_tag_invalid", "union_tag_not_found"):
        return f"{path}.kind", f"must be one of {context.get('expected_tags', 'the known kinds')}".replace("'", "")
    if kind == "literal_error":
        return path, f"must be {context['expected']}".replace("'", '"')
    if kind == "string_pattern_mismatch" and context.get("pattern") == HOUR:
        return path, "must be a whole hour of the day such as 07:00 (the balance goes by the hour)"
    if kind == "finite_number":
        return path, "must be a plain number"
    if kind in ("model_type", "model_attributes_type", "dict_type"):
        return path, "must be an object in braces"
    if kind == "value_error":  # words of a section's own check, with the key in front where it is about one
        words = message.removeprefix("Value error, ")
        key, _, rest = words.partition(": ")
        return (f"{path}.{key}".lstrip("."), rest) if owner and key in _keys(owner) and rest else (path, words)
    if loc and isinstance(loc[-1], int) and kind in ("float_type", "int_type", "float_parsing"):
        return path, "must be a number"
    spoken = _range_of(field, loc) if field else None
    return path, spoken or message[0].lower() + message[1:]


def _walk(loc: tuple[Any, ...]) -> tuple[str, FieldInfo | None, type[BriefSection] | None]:
    path, field = "", None
    model: type[BriefSection] | None = Brief
    choices: dict[str, type[BriefSection]] = {}
    for step in loc:
        if isinstance(step, str) and step in choices:
            model, choices = choices[step], {}
        elif isinstance(step, int):
            path += f"[{step}]"
        elif model is not None and step in _keys(model):
            path += f".{step}" if path else str(step)
            field = _keys(model)[step]
            parts = _sections(field.annotation)
            choices = {tag: part for part in parts for tag in _tags(part)}
            model = parts[0] if parts and not choices else model if not parts else None
        elif not (
            isinstance(step, str)
            and ("[" in step or step.startswith("constrained-") or step in ("float", "int", "list", "tuple"))
        ):
            path += f".{step}" if path else str(step)
            field = None
    return path, field, model


def _keys(model: type[BriefSection]) -> dict[str, FieldInfo]:
    """The fields of a section by the keys that a brief has for them."""
    return {field.alias or name: field for name, field in model.model_fields.items()}


def _sections(annotation: Any) -> list[type[BriefSection]]:
    """The BriefSection classes inside an annotation."""
    if isinstance(annotation, type) and issubclass(annotation, BriefSection):
        return [annotation]
    return [part for inner in get_args(annotation) for part in _sections(inner)]


def _tags(part: type[BriefSection]) -> tuple[str, ...]:
    kind = part.model_fields.get("kind")
    return get_args(kind.annotation) if kind else ()


def _range_of(field: FieldInfo, loc: tuple[Any, ...]) -> str | None:
    """``must be a whole number from 1 to 50`` from a field's own constraints."""
    if any(_bare(a) is float for a in get_args(field.annotation)) and any(
        get_origin(_bare(a)) is list for a in get_args(field.annotation)
    ):
        return "must be one number, or a list of twelve numbers, January to December"
    base, limits = _unwrap(field.annotation, list(field.metadata))
    if base is list:
        sizes = [limit for limit in limits if isinstance(limit, MinLen)]
        if sizes and sizes[0].min_length == 12 and not isinstance(loc[-1], int):
            return "must be a list of twelve numbers, January to December"
        return None
    noun = {int: "a whole number", float: "a number", bool: "true or false", str: "text"}.get(base)
    if noun is None:
        return None
    longest = [limit.max_length for limit in limits if isinstance(limit, MaxLen)]
    if base is str:
        return f"must be text of at most {longest[0]} characters" if longest else "must be text"
    words = [f"must be {noun}"]
    low = next((limit.ge for limit in limits if isinstance(limit, Ge)), None)
    above = next((limit.gt for limit in limits if isinstance(limit, Gt)), None)
    high = next((limit.le for limit in limits if isinstance(limit, Le)), None)
    under = next((limit.lt for limit in limits if isinstance(limit, Lt)), None)
    if low is not None and high is not None:
        words.append(f"from {low:g} to {high:g}")
    else:
        bounds = (("from", low), ("more than", above), ("up to", high), ("less than", under))
        words.append(" and ".join(f"{word} {limit:g}" for word, limit in bounds if limit is not None))
    return " ".join(words).strip()


def _bare(annotation: Any) -> Any:
    return get_args(annotation)[0] if get_origin(annotation) is Annotated else annotation


def _unwrap(annotation: Any, limits: list[Any]) -> tuple[Any, list[Any]]:
    """The plain type inside Annotated and Optional, with the constraints met on the way."""
    origin = get_origin(annotation)
    if origin is Annotated:
        inner, *extra = get_args(annotation)
        for item in extra:
            limits.extend(item.metadata if isinstance(item, FieldInfo) else [item])
        return _unwrap(inner, limits)
    if origin is list:
        return list, limits
    if origin is not None and type(None) in get_args(annotation):
        return _unwrap(next(a for a in get_args(annotation) if a is not type(None)), limits)
    if origin is not None:  # a union such as one number or twelve
        return _unwrap(get_args(annotation)[-1], limits)
    return annotation, limits


def schema() -> dict[str, Any]:
    """The JSON Schema of a brief."""
    made = Brief.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **made, "title": "Crooked Sundial brief"}
