package leanladder.estate;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/** Who is directly in a group or a workspace: ids of accounts and ids of groups. */
public record Members(List<String> accounts, List<String> groups) {
    /** Nobody. */
    public static final Members NOBODY = new Members(List.of(), List.of());

    /** Splits texts such as {@code account:ID} and {@code group:ID}; null is passed over. */
    public static Members parse(List<String> texts) {
        List<String> accounts = new ArrayList<>();
        List<String> groups = new ArrayList<>();
        for (String text : texts) {
            if (text == null) continue;
            (text.startsWith("group:") ? groups : accounts).add(text.substring(text.indexOf(':') + 1));
        }
        return new Members(List.copyOf(accounts), List.copyOf(groups));
    }

    /** As the estate file writes them. */
    public Stream<String> texts() {
        return Stream.concat(
                accounts.stream().map(a -> "account:" + a), groups.stream().map(g -> "group:" + g));
    }

    /** These and others, each once. Linear in both. */
    public Members with(Members others) {
        return new Members(union(accounts, others.accounts), union(groups, others.groups));
    }

    /** These without others. Linear in both. */
    public Members without(Members others) {
        return new Members(difference(accounts, others.accounts), difference(groups, others.groups));
    }

    private static List<String> union(List<String> some, List<String> more) {
        if (more.isEmpty()) return some;
        Set<String> all = new LinkedHashSet<>(some);
        all.addAll(more);
        return List.copyOf(all);
    }

    private static List<String> difference(List<String> some, List<String> fewer) {
        if (fewer.isEmpty()) return some;
        Set<String> gone = Set.copyOf(fewer);
        return some.stream().filter(s -> !gone.contains(s)).toList();
    }
}
