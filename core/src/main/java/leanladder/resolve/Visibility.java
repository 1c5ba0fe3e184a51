package leanladder.resolve;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;

/** What a person sees of a setting (estate-format.md, {@code absence}): its control, or what the catalogue has in its place. */
public enum Visibility {
    THERE,
    GREYED,
    ABSENT;

    /** What is seen of an outcome: a switch that is off, and whatever is blocked altogether, is not there; what works in part is. */
    public static Visibility of(Setting setting, Outcome outcome) {
        boolean off = outcome.value() instanceof Value.Switch value && !value.on();
        boolean blocked = !outcome.blockedBy().isEmpty()
                && setting.fallback().filter(outcome.value()::equals).isPresent();
        if (!off && !blocked) return THERE;
        return setting.source().path("absence").asText("").equals("grey") ? GREYED : ABSENT;
    }

    /** The word of the interface. */
    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
