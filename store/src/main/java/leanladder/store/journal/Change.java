package leanladder.store.journal;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.Optional;

/**
 * A published change as the journal holds it.
 *
 * @param number from 1 upwards without gaps
 * @param proven whether the author signed in, or is only named
 * @param edits a list of edits, as they were sent
 * @param words the edits as sentences, as they read when it was published
 * @param ripple what it altered, as it was told when it was published; an empty object where that was not worked out
 * @param planned when it was meant to be published, where it published itself
 */
public record Change(
        long number,
        Instant at,
        String author,
        boolean proven,
        String note,
        JsonNode edits,
        JsonNode words,
        JsonNode ripple,
        Optional<Instant> planned) {
    /** Whether nobody edited anything: an edge of time was passed, and seats with it. */
    public boolean isAutomatic() {
        return edits.isEmpty();
    }

    /** Whether it replaced the whole estate by a file. */
    public boolean replacesEstate() {
        return edits.path(0).path("kind").asText().equals("replace-estate");
    }

    /** Whether it can have altered a setting, at once or later, as far as its ripple tells. */
    public boolean mayTouch(String setting) {
        JsonNode touches = ripple.path("touches");
        if (!touches.isArray()) return true;
        for (JsonNode key : touches) if (key.asText().equals(setting)) return true;
        return false;
    }

    /** Whether every edit is of one account alone, and of another than this one: then it alters nothing for this one, now or later. */
    public boolean concernsOnlyOtherAccounts(String account) {
        return concernsOnlyOtherAccounts(account, edits);
    }

    private static boolean concernsOnlyOtherAccounts(String account, JsonNode edits) {
        for (JsonNode edit : edits) {
            String whose = edit.path("account").asText("");
            boolean others = edit.path("edits").isArray()
                    ? concernsOnlyOtherAccounts(account, edit.path("edits"))
                    : !whose.isEmpty() && !whose.equals(account);
            if (!others) return false;
        }
        return true;
    }
}
