package leanladder.server.suite;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.resolve.Climber;
import leanladder.resolve.Column;
import leanladder.resolve.Share;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answers;
import leanladder.server.suite.SuiteRoutes.Delivered;
import leanladder.server.suite.SuiteRoutes.Delivery;

/**
 * Deliveries as they are written. Soon after each change the columns of all accounts are at hand: then what is delivered of a setting is one of
 * a few texts, which is looked up and not climbed to. What is not at hand is climbed to; both read alike. Safe for use by several threads.
 */
final class Deliveries {
    private static final byte[] NO_SETTINGS = "[]}".getBytes(StandardCharsets.US_ASCII);
    private static final int USUAL_BYTES = 32 << 10;

    private final Cache<Column, Texts> known = Caffeine.newBuilder().weakKeys().build();

    /** What is delivered of a setting, as it is written. The text of most comes first, for it is looked for in this order. */
    private record Texts(Setting setting, List<Share<byte[]>> shares) {
        static Texts of(Setting setting, Column column) {
            return new Texts(
                    setting,
                    column.shares().stream()
                            .sorted(Comparator.comparingLong(s -> -s.accounts().getLongCardinality()))
                            .map(s -> new Share<>(written(Delivered.of(setting, s.what())), s.accounts()))
                            .toList());
        }

        byte[] to(int account) {
            for (Share<byte[]> share : shares) if (share.accounts().contains(account)) return share.what();
            throw new IllegalArgumentException("To this account nothing is delivered");
        }
    }

    /** All that is delivered to an account, a {@link Delivery} as JSON. */
    byte[] written(Inquiry inquiry, Account account) {
        byte[] none = Answers.write(new Delivery(account.id(), account.active(), List.of()));
        if (!account.active()) return none;
        int number = inquiry.directory().number(account.id());
        var moment = inquiry.moment();
        Climber climber = null;
        var body = new ByteArrayOutputStream(USUAL_BYTES);
        body.write(none, 0, none.length - NO_SETTINGS.length);
        char before = '[';
        for (Setting setting : inquiry.estate().catalogue().settings().values()) {
            Optional<Column> column = moment.solution().ready(setting.key());
            byte[] text;
            if (column.isPresent()) text = texts(setting, column.get()).to(number);
            else {
                if (climber == null) climber = moment.climber(account);
                text = written(Delivered.of(setting, climber.outcome(setting)));
            }
            body.write(before);
            body.write(text, 0, text.length);
            before = ',';
        }
        if (before == '[') return none;
        body.write(NO_SETTINGS, 1, NO_SETTINGS.length - 1);
        return body.toByteArray();
    }

    private Texts texts(Setting setting, Column column) {
        Texts texts = known.getIfPresent(column);
        // The same outcomes read otherwise where the catalogue has another notice.
        if (texts == null || texts.setting != setting) {
            texts = Texts.of(setting, column);
            known.put(column, texts);
        }
        return texts;
    }

    private static byte[] written(Delivered delivered) {
        return Answers.write(delivered);
    }
}
