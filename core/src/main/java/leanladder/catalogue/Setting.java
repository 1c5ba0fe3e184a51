package leanladder.catalogue;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * One thing that can be set.
 *
 * @param strictness present when the setting is ordered
 * @param fallback the value in force while a gate is closed; present whenever there are needs
 * @param source the setting as the estate file writes it, with the members that only screens use
 */
public record Setting(
        String key,
        Optional<String> app,
        String title,
        ValueType type,
        Optional<Strictness> strictness,
        Default builtIn,
        Merge merge,
        boolean openToWorkspaces,
        List<Need> needs,
        Optional<Value> fallback,
        ObjectNode source) {

    /** The key of the setting that says in which preview ring an account stands (resolution.md, section 7). */
    public static final String RING = "preview.ring";

    /** Whether nothing that decides outcomes differs from another setting of this key, openness to workspaces aside. */
    public boolean decidesLike(Setting other) {
        return type.equals(other.type)
                && source.path("ordered").equals(other.source.path("ordered"))
                && source.path("strict").equals(other.source.path("strict"))
                && builtIn.equals(other.builtIn)
                && merge == other.merge
                && needs.equals(other.needs)
                && fallback.equals(other.fallback);
    }

    /** All needs, those inside an any-of too. */
    public Stream<Need> allNeeds() {
        return needs.stream().flatMap(Need::flatten);
    }

    /** Whether it stands on a ring of this id: by default or as its fallback, or because it needs that ring. */
    public boolean namesRing(String id) {
        Value ring = new Value.Choice(id);
        boolean own = key.equals(RING)
                && (builtIn.equals(new Default.Fixed(ring))
                        || fallback.filter(ring::equals).isPresent());
        return own
                || allNeeds()
                        .anyMatch(n -> n instanceof Need.ExactSetting exactSetting
                                && exactSetting.setting().equals(RING)
                                && exactSetting.value().equals(ring));
    }

    /** Keys of the settings that this one's outcome is worked out from; the ring setting is among them where it is needed. */
    public Stream<String> dependsOn() {
        Stream<String> followed = builtIn instanceof Default.Follow follow ? Stream.of(follow.key()) : Stream.empty();
        Stream<String> needed = allNeeds().flatMap(need -> {
            if (need instanceof Need.MinimumSetting other) return Stream.of(other.setting());
            if (need instanceof Need.ExactSetting other) return Stream.of(other.setting());
            if (need instanceof Need.ReleaseNeed) return Stream.of(RING);
            return Stream.empty();
        });
        return Stream.concat(followed, needed).distinct();
    }

    /** Settings of one catalogue differ in their keys; they stand in many maps. */
    @Override
    public int hashCode() {
        return key.hashCode();
    }
}
