"""The JSON Schema of files that analysts write, as editors complete and check them by it."""

from typing import Any, Final

from pydantic import BaseModel
from pydantic.json_schema import GenerateJsonSchema

from yuzen.brief.sections.phrases import Phrase

DIALECT: Final = "https://json-schema.org/draft/2020-12/schema"
ADDRESS: Final = "https://yuzen.example/schema"  # names the schemas; nothing is fetched from there


class _PlainSchema(GenerateJsonSchema):
    """Defaults of phrases are their texts, and no key has a title: it would be its name again."""

    def encode_default(self, dft: Any) -> Any:  # noqa: ANN401 - as pydantic declares it
        """A default as JSON."""
        if isinstance(dft, Phrase):
            return dft.text
        return super().encode_default(dft)

    def sort(self, value: Any, parent_key: str | None = None) -> Any:  # noqa: ANN401, ARG002 - as above
        """A schema with its keys in their order: here as the models have them."""
        return value

    def field_title_should_be_set(self, schema: Any) -> bool:  # noqa: ANN401, ARG002 - as above
        """Whether a key without a title has one made of its name."""
        return False


def schema_of(model: type[BaseModel], name: str) -> dict[str, Any]:
    """The JSON Schema of a model; `name` is the last part of the address that identifies it."""
    schema = model.model_json_schema(mode="validation", schema_generator=_PlainSchema)
    return {"$schema": DIALECT, "$id": f"{ADDRESS}/{name}.json", **schema}
