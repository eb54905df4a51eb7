"""What is printed on a part, so that the same one can be found and ordered again."""

from __future__ import annotations

from pydantic import Field

from speedchain.fields.messages import joined, text_of
from speedchain.fields.part import Part, stated
from speedchain.fields.texts import ShortText
from speedchain.fields.words import Words


class PartLabel(Part):
    """Name, type, number, connector and side of a part, as its owner writes them; none of them is ours."""

    name: ShortText = Field("", description="What the part is called.")
    type_or_year: ShortText = Field("", description="Type, or the years it was built.")
    number: ShortText = Field("", title="Part number", description="Number on the part.")
    plug: ShortText = Field("", title="Connector", description="Its connector, as somebody would order it.")
    side: ShortText = stated(
        "",
        title="Made for side",
        description="Side of gearbox or case that it belongs to.",
        hint="left or right of case or vehicle, if it matters",
    )

    @property
    def details(self) -> Words:
        """All but the name, in one line; empty where nothing else is entered.

        Examples
        --------
        >>> PartLabel(name="Tip sensor", number="T-40", side="left").details
        'No. T-40, side: left'
        """
        parts = (
            self.type_or_year,
            self.number and text_of("No. {0}", self.number),
            self.plug and text_of("connector {0}", self.plug),
            self.side and text_of("side: {0}", self.side),
        )
        return joined(", ", [part for part in parts if part])

    @property
    def text(self) -> Words:
        """All of it in one line; empty where nothing is entered.

        Examples
        --------
        >>> PartLabel(name="Tip sensor", number="T-40").text
        'Tip sensor, No. T-40'
        """
        return joined(", ", [part for part in (self.name, self.details) if part])
