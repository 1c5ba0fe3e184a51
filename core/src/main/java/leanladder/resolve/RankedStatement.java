package leanladder.resolve;

import leanladder.estate.Policy;
import leanladder.estate.Statement;

/**
 * A statement together with the policy that makes it.
 *
 * @param rank where the policy stands among those of the estate, 0 the strongest
 */
public record RankedStatement(Policy policy, int rank, Statement statement) {}
