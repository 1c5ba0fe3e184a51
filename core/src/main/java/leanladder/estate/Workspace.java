package leanladder.estate;

import java.util.List;
import java.util.Optional;

/**
 * A place where accounts work together.
 *
 * @param hosting the id of the hosting on which it runs; empty where it has one of its own
 * @param size of the hosting of its own; empty where it runs on a shared one
 * @param trial whether the hosting of its own is a trial
 */
public record Workspace(
        String id,
        String name,
        Optional<String> hosting,
        Optional<String> size,
        boolean trial,
        List<String> stewards,
        Members members) {}
