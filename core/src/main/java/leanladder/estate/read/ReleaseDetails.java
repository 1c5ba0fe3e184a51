package leanladder.estate.read;

import java.util.Collection;
import java.util.List;
import leanladder.catalogue.AppVersion;
import leanladder.catalogue.UriSyntax;
import leanladder.json.JsonCursor;

/** Checks the members of a release that decide nothing, the same for files and for edits. */
public final class ReleaseDetails {
    private ReleaseDetails() {}

    /**
     * Reports a guide that is no link (estate-format.md): it is shown to people, and written into calendars. Reports notes by kind of device that are no
     * texts, and versions by kind of device that are none.
     */
    public static void check(JsonCursor release) {
        byKind(release, "notes").forEach(JsonCursor::text);
        byKind(release, "versions").forEach(AppVersion::read);
        release.member("guide")
                .filter(g -> !g.node().isNull()
                        && !g.node().asText().isEmpty()
                        && (!g.node().isTextual() || !UriSyntax.isLink(g.node().textValue())))
                .ifPresent(g -> g.defect("must be a link that begins with http, https or mailto"));
    }

    private static Collection<JsonCursor> byKind(JsonCursor release, String member) {
        return release.member(member)
                .filter(m -> !m.node().isNull() && m.isObject())
                .map(m -> m.members().values())
                .orElse(List.of());
    }
}
