"""Files of drafts: what comes before them, one file for each object, and the manifest that orders them."""

import json
import re
from pathlib import Path
from typing import Final

from hullsound.assess.model import Assessment
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import CODE_TYPES, ObjectType
from hullsound.draft.conversions.collations import collation_statement
from hullsound.draft.edits.names import literal, names_of, role_name
from hullsound.draft.objects.shared import create_schema
from hullsound.draft.objects.stages import creation_stages, load_levels
from hullsound.storage import make_folder, write_text

from .cutover import cutover_files
from .model import Draft, DraftSet

_UNSAFE: Final = re.compile(r"[^a-z0-9_]+")


def prepare_text(drafts: DraftSet, engine: str) -> str:
    """Return the statements that come before all drafts: the schemas."""
    names = names_of(engine)
    if engine == "oracle":
        return "".join(f"-- Create the user {' '.join(schema.lower().split())} first.\n" for schema in drafts.schemas)
    schemas = [schema for schema in drafts.schemas if engine != "sqlserver" or schema.upper() != "DBO"]
    options = f" {drafts.database_options}" if drafts.database_options else ""
    before = collation_statement() if drafts.ignores_case else ""
    made = (create_schema(engine, schema, names).removesuffix(";") for schema in schemas)
    return before + "".join(f"{text}{options};\n" for text in made)


def roles_of(catalog: Catalog) -> list[str]:
    """Return the users and roles that grants name, as the source stores them."""
    grantees = {
        grantee
        for item in catalog.objects.values()
        if item.type is ObjectType.GRANT
        for entry in item.details["entries"].split("\n")
        for grantee in (role_name(each, catalog.engine) for each in entry.split("\t")[2].split(","))
    }
    return sorted(grantees - {"PUBLIC"})


def session_text(drafts: DraftSet, catalog: Catalog, engine: str) -> str:
    """Return what lets the drafts be run one by one: roles that grants name, and where unqualified names are looked up.

    A search path is set for the session and, as each file may have one of its own, for the database.
    """
    names = names_of(engine)
    if engine in ("mysql", "mariadb"):
        make = "CREATE ROLE IF NOT EXISTS" if catalog.engine not in ("mysql", "mariadb") else "-- Create first: user"
        roles = "".join(f"{make} {names.write(role) if make[0] == 'C' else role};\n" for role in roles_of(catalog))
        default = f"USE {names.write(drafts.default_schema)};\n" if drafts.default_schema else ""
        return f"{roles}{_collation_text(drafts)}SET foreign_key_checks = 0;\n{default}"
    if engine != "postgresql":
        return ""
    lines = []
    for role in roles_of(catalog):
        known = f"SELECT FROM pg_roles WHERE rolname = {literal(names.folded(role))}"
        create = literal(f"CREATE ROLE {names.quote(names.folded(role))}")
        lines.append(f"DO $hull$ BEGIN IF NOT EXISTS ({known}) THEN EXECUTE {create}; END IF; END $hull$;\n")
    path = ", ".join(names.quote(schema) for schema in search_path(drafts, engine))
    alter = literal(f"ALTER DATABASE %I SET search_path = {path.replace('%', '%%')}")
    lines.append(f"DO $hull$ BEGIN EXECUTE format({alter}, current_database()); END $hull$;\n")
    return "".join(lines) + f"SET search_path = {path};\n"


def _collation_text(drafts: DraftSet) -> str:
    """Let the database in which names without one are looked up, and constants of this session, compare as the tables do."""
    _, told, collation = drafts.database_options.partition("COLLATE ")
    if not told:
        return ""
    alter = "" if drafts.schemas else f"ALTER DATABASE {drafts.database_options};\n"
    return f"{alter}SET NAMES utf8mb4 COLLATE {collation};\n"


def search_path(drafts: DraftSet, engine: str) -> list[str]:
    """Return the schemas in which unqualified names are looked up: where some tables have none, theirs comes first."""
    names = names_of(engine)
    schemas = [names.folded(schema) for schema in drafts.schemas]
    return ["public", *schemas] if drafts.has_bare_tables else [*schemas, "public"]


def write_drafts(drafts: DraftSet, catalog: Catalog, assessment: Assessment, folder: Path) -> Path:
    """Write one file per object under stage folders, and manifest.json. Returns the manifest's path.

    Raises SourceError if the folder cannot be written.
    """
    entries = []
    make_folder(folder)
    engine = assessment.target.engine
    write_text(folder / "prepare.sql", prepare_text(drafts, engine) + session_text(drafts, catalog, engine))
    for number, draft in enumerate(drafts.drafts, start=1):
        name = file_name(number, draft)
        if draft.text:
            make_folder((folder / name).parent)
            write_text(folder / name, file_text(draft, engine))
        entries.append({
            "id": draft.object.id,
            "outcome": draft.outcome.value,
            "file": name if draft.text else None,
            "stage": draft.stage,
            "finished": draft.is_finished,
        })  # fmt: skip
    extra = cutover_files(drafts, catalog, assessment) if drafts.drafts else {}
    for name, text in extra.items():
        make_folder((folder / name).parent)
        write_text(folder / name, text)
    manifest = folder / "manifest.json"
    document = {
        "target": str(assessment.target),
        "prepare": "prepare.sql",
        "stages": [stage._asdict() for stage in creation_stages(catalog)],
        "load": [level._asdict() for level in load_levels(catalog)],
        "cutover": list(extra),
        "objects": entries,
    }
    write_text(manifest, json.dumps(document, indent=1) + "\n")
    return manifest


def file_name(number: int, draft: Draft) -> str:
    """Return a file name made of safe characters only, in creation order; ids differ by number."""
    safe = _UNSAFE.sub("-", f"{draft.object.type.value.replace(' ', '_')}-{draft.object.name.lower()}").strip("-")
    return f"{draft.stage.replace(' ', '-')}/{number:05d}-{safe[:80]}.sql"


def file_text(draft: Draft, engine: str) -> str:
    """Return the text of a draft's file, with where it comes from, as the client of the target engine reads it."""
    item = draft.object
    lines = [f"-- {_one_line(item.id)}: {draft.outcome.value}; from {_one_line(item.file)}:{item.line}"]
    if not draft.is_finished:
        lines.append("-- A stand-in: a person has to write this object.")
    lines += [f"-- line {line}: {_one_line(reason)}" for _, line, reason in draft.skipped]
    return "\n".join(lines) + "\n" + _for_client(draft, engine) + "\n"


def _for_client(draft: Draft, engine: str) -> str:
    """End a text as the engine's own client asks for it: code holds semicolons that do not end it."""
    text = draft.text.rstrip()
    is_remark = text.rpartition("\n")[2].lstrip().startswith("--")
    is_counter = draft.object.type is ObjectType.SEQUENCE and "CREATE FUNCTION" in text
    is_code = (draft.object.type in CODE_TYPES and not is_remark) or is_counter
    if is_code and engine in ("mysql", "mariadb"):
        return f"DELIMITER ;;\n{text.rstrip(';')};;\nDELIMITER ;"
    if is_code and engine == "oracle":
        return f"{text}\n/"
    return text if is_remark or text.endswith(";") else f"{text};"


def _one_line(text: str) -> str:
    return " ".join(text.split())
