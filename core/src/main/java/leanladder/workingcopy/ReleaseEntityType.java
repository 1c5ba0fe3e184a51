package leanladder.workingcopy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.estate.Consent;
import leanladder.estate.Estate;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.ReleaseDetails;
import leanladder.estate.read.Section;
import leanladder.json.JsonCursor;

/** Releases: when the feature behind a setting opens to whom (resolution.md, section 7), and what only screens tell of it. */
final class ReleaseEntityType extends EntityType<Release> {
    private static final String TERMS = "terms";

    ReleaseEntityType() {
        super(
                "release",
                Section.RELEASES,
                Set.of(
                        "opens",
                        "early",
                        "oneByOne",
                        "planned",
                        "held",
                        TERMS,
                        "notes",
                        "versions",
                        "owner",
                        "note",
                        "guide",
                        "devices",
                        "atLeast",
                        "feedbackUntil"),
                Duty.PREVIEWS);
    }

    @Override
    public Optional<Release> find(Estate estate, String setting) {
        return estate.release(setting);
    }

    @Override
    public Optional<Release> read(JsonCursor jsonCursor, Overlay on) {
        return EntityParsers.release(
                jsonCursor,
                track -> on.track(track)
                        .map(t -> t.rings().stream().map(Ring::id).collect(Collectors.toSet())),
                on.reader(),
                key -> on.setting(key).isPresent());
    }

    @Override
    public String name(Release release) {
        return release.source().path("title").asText(release.setting());
    }

    @Override
    public ObjectNode shortBody(Release release) {
        return release.source();
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        read(whole, on);
        whole.member("planned")
                .filter(JsonCursor::isObject)
                .ifPresent(planned -> planned.members().forEach((ring, at) -> {
                    if (!on.hasRing(ring)) at.defect("names the ring \"" + ring + "\", which does not exist");
                    if (Release.planned(at.node().asText(), ZoneOffset.UTC).isEmpty())
                        at.defect("must be a day or an instant");
                }));
        whole.member("atLeast")
                .filter(n -> !n.node().isIntegralNumber() || n.node().asLong() < 1)
                .ifPresent(n -> n.defect("must be a whole number of at least 1"));
        whole.member("devices")
                .filter(d -> !d.node().isArray())
                .ifPresent(d -> d.defect("must be a list of kinds of device"));
        ReleaseDetails.check(whole);
    }

    @Override
    public void checkNew(JsonCursor named, ObjectNode body, Overlay on) {
        checkTold(named, on);
    }

    /** What a file told of it before may be whatever it was. */
    @Override
    public void checkAmended(String id, ObjectNode amended, JsonCursor members, Overlay on) {
        checkTold(members, on);
    }

    @Override
    public ObjectNode complete(String setting, ObjectNode members, JsonCursor place, Overlay on) {
        if (!members.has(TERMS)) return members;
        ObjectNode all = members.deepCopy();
        on.part(RELEASE, setting)
                .ifPresent(was -> TermsRevision.revise(
                        all,
                        was.source(),
                        place.member(TERMS).orElseThrow(),
                        Consent.ConsentTarget.RELEASE.member(),
                        setting,
                        on));
        return all;
    }

    private static void checkTold(JsonCursor told, Overlay on) {
        told.member("owner")
                .filter(o -> !o.node().isNull() && !on.hasAccount(o.node().asText()))
                .ifPresent(o -> unknown(o, ACCOUNT.noun(), o.node().asText()));
        told.member("feedbackUntil")
                .filter(d -> !d.node().isNull() && dayOf(d.node()).isEmpty())
                .ifPresent(d -> d.defect("must be a day such as 2026-12-24"));
    }

    private static Optional<LocalDate> dayOf(JsonNode node) {
        try {
            return Optional.of(LocalDate.parse(node.asText()));
        } catch (DateTimeParseException e) {
            return Optional.empty();
        }
    }

    /** Whoever gave their word to it alone would be left with a word to nothing, and only they can take it back. */
    @Override
    public Optional<String> whyNotRemoved(String setting, Overlay on) {
        int taken = on.consentsTo(setting);
        return taken == 0
                ? Optional.empty()
                : Optional.of("cannot be taken away: " + (taken == 1 ? "one account has" : taken + " accounts have")
                        + " consented to it alone. Withdraw from its rings instead");
    }

    /** Titles are those of the settings. */
    static String title(String setting, Overlay on) {
        return on.setting(setting).map(Setting::title).orElse(setting);
    }

    @Override
    public WriteSet footprint(String setting, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofRelease(setting);
    }
}
