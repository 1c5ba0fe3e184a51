package leanladder.catalogue;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** What must be met before a decided value works (resolution.md, section 5). */
public sealed interface Need {
    /** The need as the catalogue writes it. */
    JsonNode source();

    /** The need itself and, where it is an any-of, those inside. */
    default Stream<Need> flatten() {
        return Stream.of(this);
    }

    /** Met when the account holds one of the entitlements through a seat. */
    record Entitlement(List<String> anyOf, JsonNode source) implements Need {}

    /** Met when the other setting is in force with this value or a looser one. */
    record MinimumSetting(String setting, Value value, JsonNode source) implements Need {}

    /** Met when the other setting is in force with this value. */
    record ExactSetting(String setting, Value value, JsonNode source) implements Need {}

    /** Met when the account is of one of these kinds. */
    record AccountKinds(Set<AccountKind> kinds, JsonNode source) implements Need {}

    /** Met when the setting's own release has come to the account. */
    record ReleaseNeed(JsonNode source) implements Need {}

    /** Met when the question's workspace runs on hosting that is large enough, running and, unless allowed, no trial; also when there is none. */
    record Hosting(String size, boolean allowTrial, JsonNode source) implements Need {}

    /** Met when the account has one of these roles in the question's workspace; also when there is none. */
    record WorkspaceRole(Set<Role> roles, JsonNode source) implements Need {}

    /** What an account can be in a workspace. */
    enum Role {
        STEWARD,
        MEMBER;

        /** The roles by their words in the estate file. */
        public static final Map<String, Role> BY_WORD = Map.of("steward", STEWARD, "member", MEMBER);
    }

    /**
     * Met when the account has one device that fits in all of this.
     *
     * @param kinds of device, one of which it is; empty for any
     * @param app which it has; empty for whatever
     * @param atLeast in which version or a later one it has the app; empty for any
     */
    record Device(Set<String> kinds, Optional<String> app, Optional<AppVersion> atLeast, JsonNode source)
            implements Need {}

    /** Met when the organisation's region is listed. */
    record Region(Set<String> regions, JsonNode source) implements Need {}

    /** Met when one of the needs inside is. */
    record AnyOf(List<Need> needs, JsonNode source) implements Need {
        @Override
        public Stream<Need> flatten() {
            return Stream.concat(Stream.of(this), needs.stream());
        }
    }
}
