<script setup lang="ts">
import type { FirmSheet, MailBody } from '#contract/firm.ts'
import type { MailSecurity } from '#contract/words.ts'
import { post, put, remove } from '#web/api/client.ts'
import LineField from '#web/forms/LineField.vue'
import { useForm, type Faults } from '#web/forms/useForm.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'

/** The mail server of the firm: named, tried, taken out. */
const props = defineProps<{ firm: FirmSheet; owner: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const messages = useMessages()
const { wrong, busy, attempt } = useAttempt('here')
const valueOf = ({ mail }: FirmSheet) => ({
  ...{ host: mail?.host ?? '', port: String(mail?.port ?? 587), from: mail?.from ?? '' },
  ...{ user: mail?.user ?? '', password: '' },
  security: mail?.security ?? ('starttls' as MailSecurity),
})
const SECURITY: readonly { value: MailSecurity; title: string }[] = [
  { value: 'starttls', title: 'STARTTLS, usually port 587' },
  { value: 'tls', title: 'TLS from the start, usually port 465' },
  { value: 'none', title: 'not secret, within one’s own network' },
]
const form = useForm({
  key: () => 'firm.mail',
  held: () => ({ value: valueOf(props.firm), version: 0 }),
  check: ({ port }): Faults =>
    /^\d{1,5}$/.test(port) && Number(port) > 0 && Number(port) < 65_536
      ? {}
      : { port: 'A port is a number from 1 to 65535.' },
  async send({ port, password, ...rest }) {
    const body: MailBody = { ...rest, port: Number(port), ...(password && { password }) }
    const done = await put<FirmSheet>('/firm/mail', body)
    messages.say('Mail goes by this server from now on.')
    emit('changed')
    return { value: valueOf(done), version: 0 }
  },
})
const tryIt = () =>
  attempt(async () => {
    const { to } = await post<{ to: string }>('/firm/mail/test')
    messages.say(`A test is on its way to ${to}.`)
  })
const takeOut = () =>
  attempt(async () => {
    await remove('/firm/mail')
    messages.say('Mail is kept here again, and leaves for nowhere.')
    emit('changed')
  })
</script>

<template>
  <form v-if="form.draft.value" @submit.prevent="form.save()">
    <h2 class="section">
      Mail
      <span>
        {{ firm.mail ? firm.mail.host : firm.told.mail ? 'as it was told' : 'kept here' }}
      </span>
    </h2>
    <p v-if="firm.told.mail" class="small quiet">
      The server was told its mail server as it was started; that goes before what stands here.
    </p>
    <p v-else-if="!firm.mail" class="small quiet">
      Without a mail server, mail is kept in the folder of the firm and reaches nobody.
    </p>
    <template v-if="owner">
      <div class="two">
        <LineField
          v-model="form.draft.value.host"
          label="Mail server"
          placeholder="mail.example.org"
          :most="200"
          needed
          :fault="form.faultAt('host')"
        />
        <LineField
          v-model="form.draft.value.port"
          label="Port"
          :most="5"
          needed
          :fault="form.faultAt('port')"
        />
        <div class="field">
          <label for="fm-security">The line to it is</label>
          <v-select id="fm-security" v-model="form.draft.value.security" :items="SECURITY" />
        </div>
        <LineField
          v-model="form.draft.value.from"
          label="Mails are from"
          placeholder="Quillhaven <post@example.org>"
          :most="200"
          needed
          :fault="form.faultAt('from')"
        />
        <LineField
          v-model="form.draft.value.user"
          label="Account there, if it asks for one"
          :most="200"
          :fault="form.faultAt('user')"
        />
        <LineField
          v-model="form.draft.value.password"
          label="Its password"
          type="password"
          autocomplete="new-password"
          :placeholder="firm.mail?.hasPassword ? 'kept as it is' : ''"
          :most="500"
          :fault="form.faultAt('password')"
        />
      </div>
      <p v-if="form.fault.value || wrong" class="wrong" role="alert">
        {{ form.fault.value || wrong }}
      </p>
      <p class="btns">
        <v-btn type="submit" :disabled="!form.dirty.value || form.busy.value">Save</v-btn>
        <v-btn
          v-if="firm.mail || firm.told.mail"
          :disabled="busy || form.dirty.value"
          @click="tryIt"
        >
          Send a test
        </v-btn>
        <v-btn v-if="firm.mail" variant="text" :disabled="busy" @click="takeOut">Take it out</v-btn>
      </p>
    </template>
    <p v-else class="small quiet">An owner names it.</p>
  </form>
</template>
