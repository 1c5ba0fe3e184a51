package leanladder.reach;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import leanladder.catalogue.AccountKind;
import leanladder.estate.Account;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.roaringbitmap.RoaringBitmap;

class NameIndexTest {
    private static final List<String> NAMES = List.of(
            "Ósk",
            "Osk",
            "osk",
            "Osk, M",
            "Ørland",
            "Zofia",
            "Żofia",
            "Mirela Osk",
            "MIRELA OSK",
            "",
            "O'Hara",
            "Ohara");

    private static Account account(int n, Random random) {
        return new Account(
                "a" + (n * 7919 % 1000),
                "a" + n + "@skerrymore.example",
                NAMES.get(random.nextInt(NAMES.size())),
                AccountKind.PERSON,
                "u0",
                true,
                Optional.empty(),
                List.of(),
                List.of(),
                Map.of(),
                Optional.empty(),
                List.of(),
                Optional.empty());
    }

    @Property(tries = 300)
    void ranksPutAccountsInTheOrderOfTheirNamesAlsoAfterEdits(@ForAll long seed) {
        Random random = new Random(seed);
        Account[] accounts = new Account[2 + random.nextInt(40)];
        for (int n = 0; n < accounts.length; n++) accounts[n] = random.nextInt(9) == 0 ? null : account(n, random);
        NameIndex order = NameIndex.compute(Arrays.asList(accounts));
        Account[] after = Arrays.copyOf(accounts, accounts.length + random.nextInt(4));
        RoaringBitmap edited = new RoaringBitmap();
        for (int n = 0; n < after.length; n++)
            if (n >= accounts.length || random.nextInt(4) == 0) {
                after[n] = account(n, random);
                edited.add(n);
            }
        RoaringBitmap which = new RoaringBitmap();
        for (int n = 0; n < after.length; n++) if (after[n] != null && random.nextInt(3) > 0) which.add(n);
        List<Account> all = Arrays.asList(after);
        assertThat(order.without(edited).order(all, which)).isEqualTo(NameIndex.orderFew(all, which));
    }
}
