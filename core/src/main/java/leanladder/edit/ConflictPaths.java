package leanladder.edit;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Arrays;
import java.util.Set;
import java.util.stream.Collectors;

/** Paths that name parts of the estate, {@code policies/p1/statements/set chat.private}: a shorter one leads to what is in it. */
public final class ConflictPaths {
    private ConflictPaths() {}

    /** The path of these steps. */
    public static String of(String... steps) {
        return Arrays.stream(steps)
                .map(step -> step.replace("~", "~0").replace("/", "~1"))
                .collect(Collectors.joining("/"));
    }

    /** The path of each member that an edit sets. */
    public static Set<String> members(String path, ObjectNode members) {
        return members.properties().stream()
                .map(member -> path + "/" + of(member.getKey()))
                .collect(Collectors.toSet());
    }
}
