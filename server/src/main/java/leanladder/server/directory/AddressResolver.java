package leanladder.server.directory;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.estate.Account;
import leanladder.estate.Estate;

/**
 * Finds accounts by what people paste: an address, an id, a name, or "Name &lt;address&gt;". Looks through the accounts once,
 * however many lines there are.
 */
final class AddressResolver {
    private final Map<String, List<Account>> found = new HashMap<>();

    AddressResolver(Estate estate, List<String> lines) {
        Set<String> wanted = lines.stream().map(AddressResolver::key).collect(Collectors.toSet());
        for (Account account : estate.accounts()) {
            List<String> keys = new ArrayList<>(3);
            for (String name : List.of(account.userName(), account.id(), account.displayName())) {
                String key = isBare(name) ? name.toLowerCase(Locale.ROOT) : key(name);
                if (wanted.contains(key) && !keys.contains(key)) keys.add(key);
            }
            keys.forEach(k -> found.computeIfAbsent(k, x -> new ArrayList<>(1)).add(account));
        }
    }

    /** Whether there is nothing around a name that people write around an address: nearly all names, so they are found quickly. */
    private static boolean isBare(String name) {
        for (int i = 0; i < name.length(); i++) {
            char c = name.charAt(i);
            if (c == ':' || c == '"' || c == '<' || c == ',' || c == ';') return false;
        }
        return name.equals(name.strip());
    }

    /** What is left of a line when what people write around an address is gone. */
    private static String key(String line) {
        String text = line.strip().replaceAll("^\"|\"$", "");
        int open = text.lastIndexOf('<');
        int close = text.lastIndexOf('>');
        if (open >= 0 && close > open) text = text.substring(open + 1, close);
        return text.replaceAll("[,;]+$", "")
                .replaceFirst("(?i)^mailto:", "")
                .strip()
                .toLowerCase(Locale.ROOT);
    }

    /** The accounts that a line can mean; an address or id that fits exactly goes before a name. */
    List<Account> of(String line) {
        String key = key(line);
        List<Account> all = found.getOrDefault(key, List.of());
        List<Account> exact = all.stream()
                .filter(a -> a.userName().toLowerCase(Locale.ROOT).equals(key)
                        || a.id().toLowerCase(Locale.ROOT).equals(key))
                .toList();
        return exact.isEmpty() ? all : exact;
    }

    /** The one account that a line means, where it is one. */
    Optional<Account> one(String line) {
        List<Account> all = of(line);
        return all.size() == 1 ? Optional.of(all.get(0)) : Optional.empty();
    }
}
