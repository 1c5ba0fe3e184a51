package leanladder.estate;

import java.util.List;
import java.util.Optional;
import leanladder.rule.GroupRule;

/**
 * A named set of accounts.
 *
 * @param access whether its purpose is access, so that policies may aim at it; otherwise it is a mailing group
 * @param rule which other accounts it holds, beside its members
 * @param owners ids of the accounts that look after it; they are not members by that
 */
public record Group(
        String id, String name, boolean access, List<String> owners, Members members, Optional<GroupRule> rule) {}
