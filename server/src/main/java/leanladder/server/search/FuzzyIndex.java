package leanladder.server.search;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import java.util.function.Function;
import java.util.function.Predicate;
import leanladder.server.paging.FuzzyMatcher;

/**
 * Parts of one kind, found by their words.
 *
 * <p>A dictionary leads from every different word to the parts that have it. A word that is asked for is held against each word of
 * the dictionary, see {@link FuzzyMatcher}; most are told apart by their letters alone. A part is found when each word asked for meets
 * one of its own; it is the better, the better they meet and the heavier the words are. Cost: a few nanoseconds for each different
 * word, and for each part that has one that fits.
 */
final class FuzzyIndex<T> {
    /** How many matched parts are kept for words that were asked for; eight bytes each. */
    private static final int MATCHES_KEPT = 4_000_000;
    /** From which ratio of sizes on looking up each of the fewer is quicker than a merge. */
    private static final int MUCH_LARGER = 16;

    /** A text of a part, and how much its words weigh, in tenths. */
    record Field(String text, int tenths) {}

    /** A part that was found, and how well it fits. */
    record FuzzyResult<T>(T part, double score) {}

    private final List<T> parts;
    private final byte[] titleWords;
    private final List<String> words = new ArrayList<>();
    private final Map<String, Integer> numbers = new HashMap<>();
    /** Of each word its letters, its length and how it begins: most need not be looked at to be told from the one asked for. */
    private final long[] letters;

    private final byte[] lengths;
    private final char[] heads;
    private final List<Postings> postings = new ArrayList<>();
    /** The matches of words that were asked for: people type the same ones, and the next keystroke asks most of them again. */
    private final Cache<String, FuzzyMatch> matches = Caffeine.newBuilder()
            .maximumWeight(MATCHES_KEPT)
            .weigher((String word, FuzzyMatch match) -> 1 + match.parts.length)
            .executor(Runnable::run)
            .build();

    /**
     * Puts parts in order.
     *
     * @param order in which parts stand that fit alike
     * @param fields the texts of a part; the first is its title
     */
    FuzzyIndex(Collection<T> unordered, Comparator<T> order, Function<T, List<Field>> fields) {
        parts = unordered.parallelStream().sorted(order).toList();
        this.titleWords = new byte[parts.size()];
        Map<String, Integer> weights = new HashMap<>();
        for (int part = 0; part < parts.size(); part++) {
            List<Field> texts = fields.apply(parts.get(part));
            weights.clear();
            for (Field field : texts)
                for (String word : FuzzyMatcher.words(field.text)) weights.merge(word, field.tenths, Math::max);
            titleWords[part] = (byte) Math.min(
                    Byte.MAX_VALUE, FuzzyMatcher.words(texts.get(0).text).size());
            for (var word : weights.entrySet()) posting(word.getKey()).add(part, word.getValue());
        }
        letters = words.stream().mapToLong(FuzzyMatcher::letters).toArray();
        lengths = new byte[letters.length];
        heads = new char[2 * letters.length];
        for (int number = 0; number < lengths.length; number++) {
            String word = words.get(number);
            lengths[number] = (byte) Math.min(Byte.MAX_VALUE, word.length());
            heads[2 * number] = word.charAt(0);
            if (word.length() > 1) heads[2 * number + 1] = word.charAt(1);
        }
    }

    private Postings posting(String word) {
        Integer number = numbers.putIfAbsent(word, words.size());
        if (number != null) return postings.get(number);
        words.add(word);
        Postings fresh = new Postings();
        postings.add(fresh);
        return fresh;
    }

    /** The parts that a word leads to, with its weight in each; parts are added in their order. */
    private static final class Postings {
        private int[] parts = new int[1];
        private byte[] tenths = new byte[1];
        private int size;

        void add(int part, int weight) {
            if (size == parts.length) {
                parts = Arrays.copyOf(parts, size * 2);
                tenths = Arrays.copyOf(tenths, size * 2);
            }
            parts[size] = part;
            tenths[size++] = (byte) weight;
        }
    }

    List<T> parts() {
        return parts;
    }

    /** Starts a search, in which each word is held against the dictionary once, however often it is asked about. */
    Search search() {
        return new Search();
    }

    /** Parts that meet a word or several, in their order, and how well. */
    private record FuzzyMatch(int[] parts, float[] scores) {
        /**
         * Those that the other one has as well, with the sum of both. Linear in both; where one is much smaller, linear in that one and
         * logarithmic in the other.
         */
        FuzzyMatch and(FuzzyMatch other) {
            if (parts.length > MUCH_LARGER * (long) other.parts.length) return other.and(this);
            if (other.parts.length > MUCH_LARGER * (long) parts.length) return lookUpIn(other);
            int[] both = new int[Math.min(parts.length, other.parts.length)];
            float[] sums = new float[both.length];
            int size = 0;
            for (int i = 0, j = 0; i < parts.length && j < other.parts.length; ) {
                if (parts[i] < other.parts[j]) i++;
                else if (parts[i] > other.parts[j]) j++;
                else {
                    both[size] = parts[i];
                    sums[size++] = scores[i++] + other.scores[j++];
                }
            }
            return new FuzzyMatch(Arrays.copyOf(both, size), Arrays.copyOf(sums, size));
        }

        private FuzzyMatch lookUpIn(FuzzyMatch larger) {
            int[] both = new int[parts.length];
            float[] sums = new float[both.length];
            int size = 0;
            for (int i = 0, from = 0; i < parts.length && from < larger.parts.length; i++) {
                int at = Arrays.binarySearch(larger.parts, from, larger.parts.length, parts[i]);
                from = at < 0 ? -at - 1 : at + 1;
                if (at < 0) continue;
                both[size] = parts[i];
                sums[size++] = scores[i] + larger.scores[at];
            }
            return new FuzzyMatch(Arrays.copyOf(both, size), Arrays.copyOf(sums, size));
        }

        static FuzzyMatch of(float[] scores) {
            int size = 0;
            for (float score : scores) if (score > 0) size++;
            FuzzyMatch fuzzyMatch = new FuzzyMatch(new int[size], new float[size]);
            for (int part = 0, i = 0; i < size; part++)
                if (scores[part] > 0) {
                    fuzzyMatch.parts[i] = part;
                    fuzzyMatch.scores[i++] = scores[part];
                }
            return fuzzyMatch;
        }
    }

    /** One search. Not safe for use by several threads. */
    final class Search {
        /** What this search asked, which the index may forget meanwhile. */
        private final Map<String, FuzzyMatch> known = new HashMap<>();

        /**
         * The parts that fit all words, best first; of those alike, the first.
         *
         * @param counts which parts count
         */
        List<FuzzyResult<T>> find(List<String> asked, int most, Predicate<T> counts) {
            if (asked.isEmpty() || parts.isEmpty() || most == 0) return List.of();
            FuzzyMatch fuzzyMatch = met(asked.get(0));
            for (String word : asked.subList(1, asked.size())) fuzzyMatch = fuzzyMatch.and(met(word));
            record Candidate(int number, double score) {}
            Comparator<Candidate> best =
                    Comparator.comparingDouble(Candidate::score).reversed().thenComparingInt(Candidate::number);
            PriorityQueue<Candidate> heap = new PriorityQueue<>(best.reversed());
            // Of a common word a million parts are looked at here, nearly all of which are no better than the worst one
            // kept.
            double[] covered = new double[Byte.MAX_VALUE + 1];
            for (int words = 0; words < covered.length; words++)
                covered[words] = 0.1 * Math.min(1, (double) asked.size() / Math.max(1, words));
            double each = 1.0 / asked.size();
            double worst = Double.NEGATIVE_INFINITY;
            for (int i = 0; i < fuzzyMatch.parts.length; i++) {
                int number = fuzzyMatch.parts[i];
                double score = fuzzyMatch.scores[i] * each + covered[titleWords[number]];
                if (score <= worst || !counts.test(parts.get(number))) continue;
                heap.add(new Candidate(number, score));
                if (heap.size() > most) heap.poll();
                if (heap.size() == most) worst = heap.peek().score;
            }
            return heap.stream()
                    .sorted(best)
                    .map(c -> new FuzzyResult<>(parts.get(c.number), c.score))
                    .toList();
        }

        private FuzzyMatch met(String word) {
            return known.computeIfAbsent(word, w -> matches.get(w, asked -> FuzzyMatch.of(scores(asked))));
        }
    }

    private float[] scores(String asked) {
        float[] scores = new float[parts.size()];
        long has = FuzzyMatcher.letters(asked);
        int slips = FuzzyMatcher.slipsAllowed(asked);
        for (int number = 0; number < letters.length; number++) {
            // A word that lacks more of the letters than slips could have put in is neither near nor does it hold them.
            int lacking = Long.bitCount(has & ~letters[number]);
            if (lacking <= slips && mayMeet(asked, number, lacking))
                enter(scores, number, FuzzyMatcher.quality(asked, words.get(number), lacking));
        }
        for (int length = FuzzyMatcher.LEAST_BEGINNING; length < asked.length(); length++) {
            Integer number = numbers.get(asked.substring(0, length));
            if (number != null) enter(scores, number, FuzzyMatcher.quality(asked, words.get(number)));
        }
        return scores;
    }

    /** Whether a word can meet the one asked for otherwise than by being its beginning. */
    private boolean mayMeet(String asked, int number, int lacking) {
        // One or two letters meet only words that begin with them.
        if (asked.length() <= 2)
            return heads[2 * number] == asked.charAt(0)
                    && (asked.length() == 1 || heads[2 * number + 1] == asked.charAt(1));
        int longer = lengths[number] - asked.length();
        if (longer < -FuzzyMatcher.MOST_SLIPS) return false;
        return longer <= FuzzyMatcher.MOST_SLIPS
                || lacking == 0
                || FuzzyMatcher.beginAlike(asked, heads[2 * number], heads[2 * number + 1]);
    }

    private void enter(float[] scores, int number, double quality) {
        if (quality == 0) return;
        Postings found = postings.get(number);
        for (int i = 0; i < found.size; i++)
            scores[found.parts[i]] = Math.max(scores[found.parts[i]], (float) (quality * found.tenths[i] / 10));
    }
}
