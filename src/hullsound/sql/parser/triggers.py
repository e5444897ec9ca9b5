"""What the heads of triggers have in common in most engines."""

from hullsound.sql.parser.table_definitions import TableDefinitionParser


class TriggerHeadParser(TableDefinitionParser):
    """Reads timing and events of triggers."""

    def trigger_timing(self) -> str:
        """Read BEFORE, AFTER or INSTEAD OF."""
        if self.accept("INSTEAD", "OF"):
            return "instead of"
        timing = self.accept_any(("BEFORE", "AFTER")).lower()
        if not timing:
            self.fail("BEFORE, AFTER or INSTEAD OF")
        return timing

    def trigger_events(self) -> tuple[list[str], list[str]]:
        """Read event [OF columns] [OR event ...]; return the events and the columns of UPDATE."""
        events: list[str] = []
        columns: list[str] = []
        while True:
            events.append(self.any_word().lower())
            if self.accept("OF"):
                if self.at("("):
                    columns += self.name_list()
                else:
                    columns.append(self.identifier())
                    while self.accept(","):
                        columns.append(self.identifier())
            if not self.accept("OR"):
                return events, columns
