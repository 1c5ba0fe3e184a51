package leanladder.estate;

/** Says whom a policy or a licence rule is for, or is not for, while its window holds. */
public record Assignment(boolean include, Target target, TimeWindow window) {}
