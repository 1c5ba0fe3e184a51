package leanladder.server.paging;

import java.util.List;
import java.util.function.Predicate;

/** Narrows lists by words that are typed. */
public final class SearchTokens {
    private SearchTokens() {}

    /** Lets a text through that holds every word of what was typed, whatever case and accents; all texts where nothing was. */
    public static Predicate<String> fitting(String typed) {
        List<String> words = FuzzyMatcher.words(typed);
        if (words.isEmpty()) return text -> true;
        return text -> {
            String plain = FuzzyMatcher.plain(text);
            return words.stream().allMatch(plain::contains);
        };
    }
}
