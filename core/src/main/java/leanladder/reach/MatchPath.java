package leanladder.reach;

import java.util.List;

/**
 * How an account is reached.
 *
 * @param rung the height on which what reaches it stands
 * @param via the target that put it there; for a nested group the path from the target down, each as the estate file writes
 *     targets
 */
public record MatchPath(Rung rung, List<String> via) {}
