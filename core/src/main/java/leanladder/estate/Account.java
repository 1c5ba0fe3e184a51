package leanladder.estate;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.AccountKind;

/**
 * A person, a room, a guest or a service. An inactive account has no outcomes and holds no seats.
 *
 * @param asked to which previews it was asked to come; decides nothing
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
        Optional<String> title,
        Optional<LocalDate> lastSeen) {}
