package leanladder.estate;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Kind;

/** A person, a room, a guest or a service. An inactive account has no outcomes and holds no seats. */
public record Account(
        String id,
        String userName,
        String displayName,
        Kind kind,
        String unit,
        boolean active,
        Optional<LocalDate> started,
        List<Consent> consents,
        Optional<String> title) {}
