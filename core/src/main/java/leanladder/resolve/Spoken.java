package leanladder.resolve;

import leanladder.estate.Policy;
import leanladder.estate.Statement;

/** A statement together with the policy that makes it. */
public record Spoken(Policy policy, Statement statement) {}
