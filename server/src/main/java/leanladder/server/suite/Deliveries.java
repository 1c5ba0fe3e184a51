package leanladder.server.suite;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.resolve.Climber;
import leanladder.resolve.Column;
import leanladder.resolve.Outcome;
import leanladder.resolve.Share;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answers;
import leanladder.server.live.Moment;
import leanladder.server.suite.SuiteRoutes.Delivered;
import leanladder.server.suite.SuiteRoutes.Delivery;
import org.roaringbitmap.RoaringBitmap;

/**
 * Deliveries as they are written. Soon after each change the columns of all accounts are at hand: then what is delivered of a setting is one of
 * a few texts, which is looked up and not climbed to; until then it is climbed to. Both read alike. Safe for use by several threads.
 */
final class Deliveries {
    private static final byte[] NO_SETTINGS = "[]}".getBytes(StandardCharsets.US_ASCII);
    private static final int USUAL_BYTES = 32 << 10;

    private final Cache<Column, Texts> known = Caffeine.newBuilder().weakKeys().build();

    /**
     * What is delivered of a setting, as it is written.
     *
     * @param shares of accounts that get the same; that of most comes first, for it is looked for in this order
     * @param rest what the others get
     */
    private record Texts(Setting setting, List<Share<byte[]>> shares, byte[] rest) {
        static Texts of(Setting setting, Column column) {
            Map<Delivered, RoaringBitmap> alike = new HashMap<>();
            for (Share<Outcome> share : column.shares())
                alike.merge(Delivered.of(setting, share.what()), share.accounts(), (a, b) -> RoaringBitmap.or(a, b));
            List<Share<byte[]>> shares = alike.entrySet().stream()
                    .map(one -> new Share<>(Answers.write(one.getKey()), one.getValue()))
                    .sorted(Comparator.comparingLong(s -> -s.accounts().getLongCardinality()))
                    .toList();
            int last = shares.size() - 1;
            return new Texts(
                    setting,
                    List.copyOf(shares.subList(0, last)),
                    shares.get(last).what());
        }

        byte[] to(int account) {
            for (Share<byte[]> share : shares) if (share.accounts().contains(account)) return share.what();
            return rest;
        }
    }

    /** All that is delivered to an account, a {@link Delivery} as JSON. */
    byte[] written(Inquiry inquiry, Account account) {
        byte[] none = Answers.write(new Delivery(account.id(), account.active(), List.of()));
        if (!account.active() || inquiry.estate().catalogue().settings().isEmpty()) return none;
        var body = new ByteArrayOutputStream(USUAL_BYTES);
        body.write(none, 0, none.length - NO_SETTINGS.length);
        char before = '[';
        for (byte[] text : texts(inquiry, account)) {
            body.write(before);
            body.writeBytes(text);
            before = ',';
        }
        body.write(NO_SETTINGS, 1, NO_SETTINGS.length - 1);
        return body.toByteArray();
    }

    private Iterable<byte[]> texts(Inquiry inquiry, Account account) {
        Moment moment = inquiry.moment();
        Collection<Setting> settings = inquiry.estate().catalogue().settings().values();
        if (moment.solution().isReady()) {
            List<Texts> all = moment.view(
                    Deliveries.class,
                    () -> settings.stream()
                            .map(s -> texts(s, moment.solution().column(s.key())))
                            .toList());
            int number = inquiry.directory().number(account.id());
            return () -> all.stream().map(texts -> texts.to(number)).iterator();
        }
        Climber climber = moment.climber(account);
        return () -> settings.stream()
                .map(setting -> Answers.write(Delivered.of(setting, climber.outcome(setting))))
                .iterator();
    }

    /** Those of a column are kept for as long as it is; the same outcomes read otherwise where the catalogue has another notice. */
    private Texts texts(Setting setting, Column column) {
        Texts texts = known.getIfPresent(column);
        if (texts == null || texts.setting != setting) {
            texts = Texts.of(setting, column);
            known.put(column, texts);
        }
        return texts;
    }
}
