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
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.catalogue.ValueType;
import leanladder.estate.Account;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.Column;
import leanladder.resolve.Outcome;
import leanladder.resolve.Segment;
import leanladder.server.http.JsonWriter;
import leanladder.server.query.QueryContext;
import leanladder.server.state.InstantResolution;
import leanladder.server.suite.SuiteRoutes.DeliveredSetting;
import leanladder.server.suite.SuiteRoutes.Delivery;
import org.roaringbitmap.RoaringBitmap;

/**
 * Builds the settings payload of an account. Soon after each change the columns of all settings have been computed; the payload is then assembled from
 * a few texts for each setting. Until then it is resolved for the account alone. Both ways give the same payload. Thread-safe.
 */
final class SettingsPayloadCache {
    private static final byte[] NO_SETTINGS = "[]}".getBytes(StandardCharsets.US_ASCII);
    private static final int USUAL_BYTES = 32 << 10;

    private final Cache<Column, SettingTexts> known =
            Caffeine.newBuilder().weakKeys().build();

    /**
     * What is delivered of a setting, as it is written.
     *
     * @param shares of accounts that get the same; that of most comes first, for it is looked for in this order
     * @param rest what the others get
     * @param byLanguage what is in force, where what is written depends on the language of each account
     */
    private record SettingTexts(
            Setting setting, List<Segment<byte[]>> shares, byte[] rest, Optional<Column> byLanguage) {
        static SettingTexts of(Setting setting, Column column) {
            if (isByLanguage(setting)) return new SettingTexts(setting, List.of(), new byte[0], Optional.of(column));
            Map<DeliveredSetting, RoaringBitmap> alike = new HashMap<>();
            for (Segment<Outcome> segment : column.shares())
                alike.merge(
                        DeliveredSetting.of(setting, segment.what(), Optional.empty()),
                        segment.accounts(),
                        (a, b) -> RoaringBitmap.or(a, b));
            List<Segment<byte[]>> shares = alike.entrySet().stream()
                    .map(one -> new Segment<>(JsonWriter.write(one.getKey()), one.getValue()))
                    .sorted(Comparator.comparingLong(s -> -s.accounts().getLongCardinality()))
                    .toList();
            int last = shares.size() - 1;
            return new SettingTexts(
                    setting,
                    List.copyOf(shares.subList(0, last)),
                    shares.get(last).what(),
                    Optional.empty());
        }

        private static boolean isByLanguage(Setting setting) {
            return setting.type() instanceof ValueType.TextType text && text.byLanguage()
                    || setting.type() instanceof ValueType.LinkType link && link.byLanguage();
        }

        byte[] to(int account, Optional<String> language) {
            if (byLanguage.isPresent())
                return JsonWriter.write(
                        DeliveredSetting.of(setting, byLanguage.get().of(account), language));
            for (Segment<byte[]> segment : shares) if (segment.accounts().contains(account)) return segment.what();
            return rest;
        }
    }

    /** All that is delivered to an account, a {@link Delivery} as JSON. */
    byte[] written(QueryContext queryContext, Account account) {
        byte[] none = JsonWriter.write(new Delivery(account.id(), account.active(), List.of()));
        if (!account.active() || queryContext.estate().catalogue().settings().isEmpty()) return none;
        var body = new ByteArrayOutputStream(USUAL_BYTES);
        body.write(none, 0, none.length - NO_SETTINGS.length);
        char before = '[';
        for (byte[] text : texts(queryContext, account)) {
            body.write(before);
            body.writeBytes(text);
            before = ',';
        }
        body.write(NO_SETTINGS, 1, NO_SETTINGS.length - 1);
        return body.toByteArray();
    }

    private Iterable<byte[]> texts(QueryContext queryContext, Account account) {
        InstantResolution instantResolution = queryContext.instantResolution();
        Collection<Setting> settings =
                queryContext.estate().catalogue().settings().values();
        if (instantResolution.columnResolver().isReady()) {
            List<SettingTexts> all = instantResolution.view(
                    SettingsPayloadCache.class,
                    () -> settings.stream()
                            .map(s ->
                                    texts(s, instantResolution.columnResolver().column(s.key())))
                            .toList());
            int number = queryContext.directory().number(account.id());
            return () -> all.stream()
                    .map(settingTexts -> settingTexts.to(number, account.language()))
                    .iterator();
        }
        AccountResolver accountResolver = instantResolution.climber(account);
        return () -> settings.stream()
                .map(setting -> JsonWriter.write(
                        DeliveredSetting.of(setting, accountResolver.outcome(setting), account.language())))
                .iterator();
    }

    /** Those of a column are kept for as long as it is; the same outcomes read otherwise where the catalogue has another notice. */
    private SettingTexts texts(Setting setting, Column column) {
        SettingTexts settingTexts = known.getIfPresent(column);
        if (settingTexts == null || settingTexts.setting != setting) {
            settingTexts = SettingTexts.of(setting, column);
            known.put(column, settingTexts);
        }
        return settingTexts;
    }
}
