package leanladder.estate.read;

import leanladder.catalogue.UriSyntax;
import leanladder.json.JsonCursor;

/** Checks the members of a release that decide nothing, the same for files and for edits. */
public final class ReleaseDetails {
    private ReleaseDetails() {}

    /** Reports a guide that is no link (estate-format.md): it is shown to people, and written into calendars. */
    public static void check(JsonCursor release) {
        release.member("guide")
                .filter(g -> !g.node().isNull()
                        && !g.node().asText().isEmpty()
                        && (!g.node().isTextual() || !UriSyntax.isLink(g.node().textValue())))
                .ifPresent(g -> g.defect("must be a link that begins with http, https or mailto"));
    }
}
