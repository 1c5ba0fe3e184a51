package leanladder.estate;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.AccountKind;

/**
 * A person, a room, a guest or a service. An inactive account has no outcomes and holds no seats.
 *
 * @param asked to which previews it was asked to come; decides nothing
 * @param attributes by name their texts: one, or those of a list; none is empty of texts. Whole numbers and booleans as JSON writes them
 * @param language a BCP 47 tag, by which values in several languages are chosen
 * @param devices that it uses
 * @param lastSeen the day, in UTC, on which it used the suite last, where that is known; decides nothing
 */
public record Account(
        String id,
        String userName,
        String displayName,
        AccountKind kind,
        String unit,
        boolean active,
        Optional<LocalDate> started,
        List<Consent> consents,
        List<Invitation> asked,
        Map<String, List<String>> attributes,
        Optional<String> language,
        List<Device> devices,
        Optional<LocalDate> lastSeen) {
    /** What the account is, such as first mate; decides nothing but what rules of groups say of it. */
    public Optional<String> title() {
        List<String> title = attributes.get("title");
        return title == null ? Optional.empty() : Optional.of(title.get(0));
    }
}
