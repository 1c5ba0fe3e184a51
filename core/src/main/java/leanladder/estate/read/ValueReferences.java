package leanladder.estate.read;

import leanladder.catalogue.ValueType;
import leanladder.json.JsonCursor;

/** Checks that values of people name what exists, and that the contents of pictures are there (estate-format.md). */
public final class ValueReferences {
    private ValueReferences() {}

    /** Reports each target of a value that does not exist, and a picture without content; nothing for values of other types. */
    public static void check(JsonCursor value, ValueType type, References known) {
        if (type instanceof ValueType.PictureType && value.node().path("sha256").isTextual()) {
            String sha256 = value.node().get("sha256").textValue();
            if (!known.hasPicture(sha256)) value.defect("names the picture " + sha256 + ", whose content is missing");
        }
        if (!(type instanceof ValueType.PeopleType) || !value.node().isArray()) return;
        for (JsonCursor item : value.items())
            if (item.node().isTextual() && !known.hasPeople(item.node().textValue()))
                item.defect("names " + item.node().textValue() + ", which does not exist");
    }

    /** The same for what a setting says itself: its default, its fallback, and the values that it needs. */
    public static void checkSetting(JsonCursor setting, ValueType type, References known) {
        for (String member : new String[] {"default", "fallback"})
            setting.member(member).ifPresent(value -> check(value, type, known));
    }
}
